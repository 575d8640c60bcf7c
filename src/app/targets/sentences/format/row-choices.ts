import { RowsSchema, type Rows, type When } from '../../../../core/formats/own/schema';

// Which rows of a kind a file has, and in what order: in words, and back.

/** What is said of rows, or of when a value stands there. */
type Said = Partial<Rows & When>;
type Key =
  Exclude<keyof Said, 'of' | 'order' | 'seats' | 'perQuarter' | 'perBar' | 'rate'> | 'rate';

type Kind = 'text' | 'yes' | 'choice';
export interface RowFilter {
  readonly key: Key;
  readonly words: string;
  readonly kind: Kind;
  readonly after: string;
  readonly options?: readonly (readonly [id: string, words: string])[];
  /** As it stands in its field; empty where nothing is said. */
  readonly said: string;
}

const OF_NOTES = new Set<Rows['of']>([
  'notes',
  'strikes',
  'events',
  'bars',
  'frames',
  'cells',
  'phrases',
  'seats',
  'parts',
  'channels',
  'rungs',
]);
const MAY_BE_EMPTY = new Set<Rows['of']>(['bars', 'frames', 'cells', 'seats']);
const onFrames = (of: Rows['of']) => of === 'notes' || of === 'events';

type Field = Omit<RowFilter, 'said' | 'after'> & { readonly after?: string };
const FIELDS: readonly (Field & { readonly fits: (of: Rows['of']) => boolean })[] = [
  {
    key: 'empty',
    words: 'also those without a note',
    kind: 'yes',
    fits: (of) => MAY_BE_EMPTY.has(of),
  },
  { key: 'once', words: 'each key once', kind: 'yes', fits: (of) => of === 'notes' },
  {
    key: 'onLanes',
    words: 'on a lane of their seat',
    kind: 'yes',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'alike',
    words: 'together where they are alike in',
    kind: 'choice',
    options: [
      ['', 'place alone'],
      ['length', 'length'],
      ['velocity', 'velocity'],
      ['flags', 'flags'],
      ['length velocity', 'length and velocity'],
      ['length velocity flags', 'length, velocity and flags'],
    ],
    fits: (of) => of === 'strikes',
  },
  {
    key: 'pauseBeats',
    words: 'parted by',
    kind: 'text',
    after: 'beats without a note',
    fits: (of) => of === 'phrases',
  },
  { key: 'rate', words: 'on frames, of which', kind: 'text', after: 'a second', fits: onFrames },
  {
    key: 'keys',
    words: 'of the keys',
    kind: 'text',
    fits: (of) => OF_NOTES.has(of) || of === 'lanes',
  },
  { key: 'rungs', words: 'of the levels', kind: 'text', fits: (of) => OF_NOTES.has(of) },
  { key: 'flag', words: 'with the flag', kind: 'text', fits: (of) => OF_NOTES.has(of) },
  {
    key: 'longerMs',
    words: 'lasting',
    kind: 'text',
    after: 'ms or more',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'shorterMs',
    words: 'lasting less than',
    kind: 'text',
    after: 'ms',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'longerQuarters',
    words: 'lasting',
    kind: 'text',
    after: 'quarters or more',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'shorterQuarters',
    words: 'lasting less than',
    kind: 'text',
    after: 'quarters',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'harder',
    words: 'of velocity',
    kind: 'text',
    after: 'or harder',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'softer',
    words: 'softer than velocity',
    kind: 'text',
    fits: (of) => OF_NOTES.has(of),
  },
  {
    key: 'controllers',
    words: 'of the controllers',
    kind: 'text',
    fits: (of) => of === 'controllers',
  },
];
/** What is said of a note itself. */
const OF_NOTE = new Set<Key>([
  'longerMs',
  'shorterMs',
  'longerQuarters',
  'shorterQuarters',
  'harder',
  'softer',
  'flag',
  'keys',
  'rungs',
]);
const OF_CASES: readonly Field[] = [
  {
    key: 'on',
    words: 'where they',
    kind: 'choice',
    options: [
      ['', 'begin or end'],
      ['yes', 'begin'],
      ['no', 'end'],
    ],
  },
  { key: 'parts', words: 'of the parts', kind: 'text', after: '(parted by ;)' },
  ...FIELDS.filter((f) => OF_NOTE.has(f.key)),
];

const filled = (field: Field, said: Said): RowFilter => {
  const { key, words, kind, options, after = '' } = field;
  const value = said[key];
  const text = (() => {
    if (value === undefined || (value === false && key !== 'on')) return '';
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    return [value].flat().join(key === 'parts' ? '; ' : ' ');
  })();
  return { key, words, kind, after, ...(options ? { options } : {}), said: text };
};

/** What can be said of rows of their kind, and what is. */
export const rowFilters = (rows: Rows): readonly RowFilter[] =>
  FIELDS.filter((f) => f.fits(rows.of)).map((f) => filled(f, rows));

/** When a value stands there: what can be said of it, and what is. */
export const caseFilters = (when: When): readonly RowFilter[] =>
  OF_CASES.map((f) => filled(f, when));

/** In what order notes stand; several keys are gone through one after the other. */
export const ROW_ORDERS: readonly (readonly [id: string, words: string])[] = [
  ['', 'their beginnings'],
  ['start key', 'beginning, then key upwards'],
  ['start key-down', 'beginning, then key downwards'],
  ['start seat', 'beginning, then seat'],
  ['start seat key', 'beginning, then seat and key'],
  ['start part', 'beginning, then part'],
  ['start part key', 'beginning, then part and key'],
  ['start channel', 'beginning, then channel'],
  ['start channel key', 'beginning, then channel and key'],
  ['start off-first', 'place, ends first'],
  ['start off-first key', 'place, ends first, then key'],
  ['start off-first part', 'place, ends first, then part'],
  ['start off-first part key', 'place, ends first, then part and key'],
  ['start off-first channel key', 'place, ends first, then channel and key'],
  ['start off-first begun part key', 'place, ends first, as they began, then part and key'],
  ['start off-first begun channel key', 'place, ends first, as they began, then channel and key'],
  ['end', 'their ends'],
  ['end key', 'their ends, then key'],
  ['key start', 'key upwards, then beginning'],
  ['seat start', 'seat, then beginning'],
  ['seat start key', 'seat, then beginning and key'],
  ['seat start off-first', 'seat, then place, ends first'],
  ['part start', 'part, then beginning'],
  ['part start key', 'part, then beginning and key'],
  ['part start off-first', 'part, then place, ends first'],
  ['channel start key', 'channel, then beginning and key'],
  ['channel start off-first', 'channel, then place, ends first'],
  ['start', 'place alone'],
];

const LISTS = new Set<string>(['keys', 'rungs', 'controllers']);
function valueOf(key: Key | 'order', said: string): unknown {
  const words = said.split(/[\s,;]+/).filter((w) => w !== '');
  if (key === 'order' || key === 'alike') return words;
  if (key === 'empty' || key === 'once' || key === 'onLanes') return true;
  if (key === 'on') return said === 'yes';
  if (key === 'flag') return said.trim();
  if (key === 'parts')
    return said
      .split(';')
      .map((p) => p.trim())
      .filter((p) => p !== '');
  return LISTS.has(key) ? words.map(Number) : Number(words[0]);
}

/** Rows, or a case, with one thing said otherwise; what is empty is not said. */
export function withSaid<T extends Said>(what: T, key: Key | 'order', said: string): T {
  const rest = { ...what };
  delete rest[key];
  return said.trim() === '' ? rest : { ...rest, [key]: valueOf(key, said) };
}

/** Rows with one thing said otherwise; null where it cannot be so. */
export function chosenRows(rows: Rows, key: Key | 'order', said: string): Rows | null {
  const result = RowsSchema.safeParse(withSaid(rows, key, said));
  return result.success ? result.data : null;
}
