import type * as z from 'zod';
import type { Effect, NoteAddress, Piece, Scope, StepCall } from '../plan/model';
import { mapsOf, type Maps } from '../score/inventory';
import { isIn, type Part, type Score } from '../score/score';
import { count } from '../target/words';

/** Which parts and notes a step may touch. */
export interface Selection {
  readonly whole: boolean;
  readonly fromTick: number;
  readonly toTick: number;
  part(part: Part): boolean;
  note(part: Part, index: number): boolean;
}

export interface StepInput<P> {
  readonly piece: Piece;
  readonly params: P;
  readonly select: Selection;
  readonly maps: Maps;
}

/** Something that a step took away, to be listed. */
export interface Loss {
  readonly what: string;
  readonly count: number;
}

export type StepResult =
  | {
      readonly piece: Piece;
      /** Where one piece became several. */
      readonly pieces?: readonly Piece[];
      readonly effect: Effect;
      readonly losses: readonly Loss[];
    }
  | { readonly refused: string };

export interface StepDefinition<P = unknown> {
  readonly id: string;
  readonly title: string;
  readonly summary: string;
  readonly params: z.ZodType<P>;
  /** In words, without the scope: "up 12 semitones". */
  describe(params: P): string;
  apply(input: StepInput<P>): StepResult;
}

export function defineStep<P>(step: StepDefinition<P>): StepDefinition<P> {
  return step;
}

/** Builds the call of a step, with its parameters checked by type. */
export const callStep = <P>(step: StepDefinition<P>, params: P, scope: Scope = {}): StepCall => ({
  step: step.id,
  params,
  scope,
  on: true,
});

export const NOTHING_DONE: Effect = {
  notesChanged: 0,
  notesDropped: 0,
  notesAdded: 0,
  events: 0,
  says: 'Nothing to change',
};

/** Counts, and the sentence that they make. */
export function effectOf(counts: {
  changed?: number;
  dropped?: number;
  added?: number;
  events?: number;
  /** What is said of changed notes: "moved", "transposed". */
  verb?: string;
  /** What the events are and what became of them: "controllers taken out". */
  eventWords?: string;
  /** Said where nothing else is. */
  says?: string;
}): Effect {
  const { changed = 0, dropped = 0, added = 0, events = 0 } = counts;
  const said = [
    changed > 0 ? `${count(changed, 'note')} ${counts.verb ?? 'changed'}` : '',
    dropped > 0 ? `${count(dropped, 'note')} left out` : '',
    added > 0 ? `${count(added, 'note')} added` : '',
    events > 0 ? `${events.toLocaleString('en-GB')} ${counts.eventWords ?? 'events changed'}` : '',
  ].filter(Boolean);
  return {
    notesChanged: changed,
    notesDropped: dropped,
    notesAdded: added,
    events,
    says: said.length > 0 ? said.join(', ') : (counts.says ?? NOTHING_DONE.says),
  };
}

export const done = (
  piece: Piece,
  counts: Parameters<typeof effectOf>[0],
  losses: readonly Loss[] = [],
): StepResult => ({
  piece,
  effect: effectOf(counts),
  losses: losses.filter((l) => l.count > 0),
});

/** An id that no note of the piece has. */
export const nextId = (piece: Piece): number =>
  1 +
  piece.score.parts.reduce((most, { notes }) => {
    for (let i = 0; i < notes.count; i++) if (notes.id[i]! > most) most = notes.id[i]!;
    return most;
  }, 0);

/** A piece with another score; the same object where nothing changed. */
export const withScore = (piece: Piece, score: Partial<Score>): Piece => ({
  ...piece,
  score: { ...piece.score, ...score },
});

/** Runs `change` over the selected parts that are not left out; untouched parts are shared. */
export function changeParts(
  { piece, select }: Pick<StepInput<unknown>, 'piece' | 'select'>,
  change: (part: Part) => Part,
  options: { leftOutToo?: boolean } = {},
): Piece {
  let touched = false;
  const parts = piece.score.parts.map((part) => {
    if (!select.part(part) || (!options.leftOutToo && !isIn(part))) return part;
    const next = change(part);
    if (next !== part) touched = true;
    return next;
  });
  return touched ? withScore(piece, { parts }) : piece;
}

/** Resolves the notes that a plan names to ids of this run. */
export type ResolveNotes = (addresses: readonly NoteAddress[]) => {
  ids: ReadonlySet<number>;
  missing: readonly NoteAddress[];
};

export const everything = (piece: Piece): StepInput<undefined> => ({
  piece,
  params: undefined,
  maps: mapsOf(piece.score),
  select: { whole: true, fromTick: 0, toTick: Infinity, part: () => true, note: () => true },
});
