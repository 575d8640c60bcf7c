import { RowsSchema, type Rows } from '../../../../core/formats/own/schema';

// Which rows of a kind a file has, and in what order: in words, and back.

type Key = 'keys' | 'rungs' | 'flag' | 'longerMs' | 'shorterMs' | 'controllers' | 'empty' | 'once';

export interface RowFilter {
  readonly key: Key;
  readonly words: string;
  readonly kind: 'text' | 'yes';
  readonly after: string;
  /** As it stands in its field; empty where nothing is said. */
  readonly said: string;
}

const OF_NOTES = new Set<Rows['of']>(['notes', 'strikes', 'events', 'bars', 'frames', 'cells']);
const MAY_BE_EMPTY = new Set<Rows['of']>(['bars', 'frames', 'cells', 'seats']);

const WORDS: readonly (readonly [Key, string, 'text' | 'yes', (of: Rows['of']) => boolean])[] = [
  ['empty', 'also those without a note', 'yes', (of) => MAY_BE_EMPTY.has(of)],
  ['once', 'each key once', 'yes', (of) => of === 'notes'],
  ['keys', 'of the keys', 'text', (of) => OF_NOTES.has(of) || of === 'lanes'],
  ['rungs', 'of the levels', 'text', (of) => OF_NOTES.has(of)],
  ['flag', 'with the flag', 'text', (of) => OF_NOTES.has(of)],
  ['longerMs', 'lasting', 'text', (of) => OF_NOTES.has(of)],
  ['shorterMs', 'lasting less than', 'text', (of) => OF_NOTES.has(of)],
  ['controllers', 'of the controllers', 'text', (of) => of === 'controllers'],
];

/** What can be said of rows of their kind, and what is. */
export const rowFilters = (rows: Rows): readonly RowFilter[] =>
  WORDS.filter(([, , , fits]) => fits(rows.of)).map(([key, words, kind]) => {
    const value = rows[key];
    const said = value === undefined || value === false ? '' : [value].flat().join(' ');
    const after = { longerMs: 'ms or more', shorterMs: 'ms' }[key as string] ?? '';
    return { key, words, kind, said, after };
  });

/** In what order notes stand; several keys are gone through one after the other. */
export const ROW_ORDERS: readonly (readonly [id: string, words: string])[] = [
  ['', 'their beginnings'],
  ['start key', 'beginning, then key upwards'],
  ['start key-down', 'beginning, then key downwards'],
  ['start seat', 'beginning, then seat'],
  ['end', 'their ends'],
  ['key start', 'key upwards, then beginning'],
  ['seat start', 'seat, then beginning'],
  ['part start', 'part, then beginning'],
];

/** Rows with one thing said otherwise; null where it cannot be so. */
export function chosenRows(rows: Rows, key: Key | 'order', said: string): Rows | null {
  const rest = { ...rows };
  delete rest[key];
  const words = said.split(/[\s,;]+/).filter((w) => w !== '');
  if (words.length === 0) return rest;
  const value = (() => {
    if (key === 'order') return words;
    if (key === 'empty' || key === 'once') return true;
    if (key === 'flag') return said.trim();
    if (key === 'longerMs' || key === 'shorterMs') return Number(words[0]);
    return words.map(Number);
  })();
  const result = RowsSchema.safeParse({ ...rest, [key]: value });
  return result.success ? result.data : null;
}
