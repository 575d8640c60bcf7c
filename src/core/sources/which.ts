import type { ModuleChoices } from './module/choices';

/** Which reading of the same bytes is meant: a sequence of a format 2 file, or how a module is read. */
export interface Which {
  /** From 0. */
  readonly sequence?: number | undefined;
  readonly reading?: ModuleChoices | undefined;
}

/** What is said of it, and nothing else. */
export const whichOf = ({ sequence, reading }: Which) => ({
  ...(sequence === undefined ? {} : { sequence }),
  ...(reading === undefined || Object.keys(reading).length === 0 ? {} : { reading }),
});

/** Tells readings of the same bytes apart. */
export const whichKey = (which: Which): string =>
  Object.keys(whichOf(which)).length === 0 ? '' : JSON.stringify(whichOf(which));

/** A source of a job as the engine is asked for it. */
export const refOf = (
  source: Which & { readonly key: string; readonly sha256: string; readonly name: string },
) => ({
  key: source.key,
  sha256: source.sha256,
  name: source.name,
  ...whichOf(source),
});
