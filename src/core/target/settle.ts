import { valueAt, withValue, type Data } from './sentences';

/**
 * What a proposal says in a target: a value at a path, one that is needed beside it where nothing is
 * said, or one more in the list that stands there.
 */
export type Setting =
  | { readonly path: string; readonly value: unknown }
  | { readonly path: string; readonly orElse: unknown }
  | { readonly path: string; readonly adds: unknown };

/** The target with all of them said, one behind the other; a list grows, and nothing stands twice. */
export const settle = (target: Data, settings: readonly Setting[]): Data =>
  settings.reduce((data, s) => {
    if ('value' in s) return withValue(data, s.path, s.value);
    const there = valueAt(data, s.path);
    if ('orElse' in s) return there === undefined ? withValue(data, s.path, s.orElse) : data;
    const list: readonly unknown[] = Array.isArray(there) ? there : [];
    const own = JSON.stringify(s.adds);
    return list.some((o) => JSON.stringify(o) === own)
      ? data
      : withValue(data, s.path, [...list, s.adds]);
  }, target);

/** Paths of what was said, in the target that says it: in a list of each value of the one that is there. */
export const settledPaths = (target: Data, settings: readonly Setting[]): string[] =>
  settings.flatMap((s) => {
    if ('value' in s) return [s.path];
    if ('orElse' in s) return [];
    const own = JSON.stringify(s.adds);
    const at = ((valueAt(target, s.path) ?? []) as unknown[]).findIndex(
      (o) => JSON.stringify(o) === own,
    );
    return at < 0 ? [] : Object.keys(s.adds as Data).map((key) => `${s.path}[${at}].${key}`);
  });
