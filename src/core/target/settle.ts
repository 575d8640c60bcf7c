import { parseTarget } from './parse';
import { UNSAID } from './unsaid';
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

/**
 * What tells files that were played wrongly from those that were not: a caution, with what was heard as
 * the reason where there is a place for it, and among what to watch at the far side.
 *
 * @param target as it is otherwise
 * @param note what was heard, in the words of who heard it; may be empty
 */
export function asCautions(target: Data, settings: readonly Setting[], note: string): Setting[] {
  const heard = [...note.trim()].slice(0, LONGEST_NOTE).join('');
  const said = new Set(((target['limits'] ?? []) as Data[]).map(boundsOf));
  const mild = settings.flatMap((s): Setting[] => {
    if (!('adds' in s) || s.path !== 'limits') return [s];
    // The same limit may stand there already, and be graver.
    if (said.has(boundsOf(s.adds as Data))) return [];
    const why = heard || 'Files that break it are played wrongly';
    return [{ ...s, adds: { ...(s.adds as Data), why, severity: 'caution' } }];
  });
  // What a block says already is as grave as it was.
  const blocks = new Set(settings.map((s) => s.path.split('.')[0]!));
  const severities = [...blocks].flatMap((block): Setting[] =>
    target[block] === undefined ? [{ path: `${block}.severity`, orElse: 'caution' }] : [],
  );
  const taken = severities.filter(
    (s) => parseTarget(settle(settle(UNSAID as unknown as Data, mild), [s])).target !== undefined,
  );
  const watched: Setting[] = heard === '' ? [] : [{ path: 'checklist', adds: heard }];
  return [...mild, ...taken, ...watched];
}
const LONGEST_NOTE = 200;

/** What a limit bounds, whatever it is called and however grave it is. */
const boundsOf = ({ title: _, why: _why, severity: _severity, ...bounds }: Data): string =>
  JSON.stringify(Object.entries(bounds).sort());

/** Paths of what was said, in the target that says it: in a list of each value of the one that is there. */
export const settledPaths = (target: Data, settings: readonly Setting[]): string[] =>
  settings.flatMap((s) => {
    if ('value' in s) return [s.path];
    if ('orElse' in s) return [];
    const own = JSON.stringify(s.adds);
    if (typeof s.adds !== 'object') return [];
    const at = ((valueAt(target, s.path) ?? []) as unknown[]).findIndex(
      (o) => JSON.stringify(o) === own,
    );
    return at < 0 ? [] : Object.keys(s.adds as Data).map((key) => `${s.path}[${at}].${key}`);
  });
