import type { RowKind, Rows, Value } from '../../formats/own/schema';
import { type Row, rowsOf } from '../own/rows';
import type { Beside } from '../own/values';

/** A column of an example: the same place of every row, as it stands in the file. */
export interface Column {
  readonly cells: readonly string[];
  /** JSON tells numbers from texts; in other files both are letters. */
  readonly plain: boolean;
  readonly decimal: string;
}

/** A row of the score, with what its values depend on. */
export interface Context {
  readonly row: Row | null;
  readonly beside: Beside;
}

/** The rows of a score that an example's rows may be, with where each of them stands. */
export interface Candidate {
  readonly rows: Rows;
  readonly list: readonly Row[];
  readonly at: readonly Context[];
  /** How time is told elsewhere in the same file. */
  readonly usual?: readonly Explained[] | undefined;
}

/** Orders in which notes are found; the usual one first. */
export const ORDERS: readonly (Rows['order'] | undefined)[] = [
  undefined,
  ['start', 'key'],
  ['start', 'key-down'],
  ['start', 'part', 'key'],
  ['start', 'channel', 'key'],
  ['start', 'part'],
  ['start', 'channel'],
  ['start', 'seat', 'key'],
  ['seat', 'start', 'key'],
  ['part', 'start', 'key'],
  ['channel', 'start', 'key'],
  ['part', 'start'],
  ['key', 'start'],
  ['end', 'key'],
];

/** Orders of beginnings and ends, but the usual one: ends before what begins there. */
export const EVENT_ORDERS: readonly NonNullable<Rows['order']>[] = [
  ['start', 'key'],
  ['start', 'off-first', 'key'],
  ['start', 'off-first', 'part', 'key'],
  ['start', 'off-first', 'channel', 'key'],
  ['start', 'off-first', 'part'],
  ['start', 'off-first', 'begun', 'part', 'key'],
  ['start', 'off-first', 'begun', 'channel', 'key'],
  ['seat', 'start', 'off-first'],
  ['part', 'start', 'off-first'],
  ['channel', 'start', 'off-first'],
  ['start'],
];

const KINDS: readonly RowKind[] = [
  'strikes',
  'events',
  'tempos',
  'markers',
  'bars',
  'meters',
  'changes',
  'seats',
  'parts',
  'channels',
  'captions',
];

/**
 * The rows of a kind under each of several parents, one list behind the other; null as soon as one has
 * another number than stands in the example.
 */
function under(
  rows: Rows,
  parents: readonly Context[],
  counts: readonly number[],
): Candidate | null {
  const list: Row[] = [];
  const at: Context[] = [];
  for (const [n, { row: inside, beside }] of parents.entries()) {
    const own = rowsOf(rows, beside.world, inside);
    if (own.length !== counts[n]) return null;
    own.forEach((row, index) => {
      const before = index > 0 ? own[index - 1]! : null;
      list.push(row);
      at.push({ row, beside: { world: beside.world, inside, before, index } });
    });
  }
  return { rows, list, at };
}

/** Rows of the score of which there are as many under each parent; of one kind where it is named. */
export function candidatesOf(
  parents: readonly Context[],
  counts: readonly number[],
  given?: RowKind | Rows,
  usual?: readonly Explained[],
): Candidate[] {
  if (typeof given === 'object') {
    const one = under(given, parents, counts);
    return one ? [one] : [];
  }
  const only = given;
  const out: Candidate[] = [];
  const { target } = parents[0]!.beside.world;
  const seen = new Set<string>();
  const otherCount = new Set<string>();
  const attempt = (rows: Rows) => {
    if (only && rows.of !== only) return;
    // In another order there are as many.
    const kind = JSON.stringify({ ...rows, order: undefined });
    if (otherCount.has(kind)) return;
    const found = under(rows, parents, counts);
    if (!found) return void otherCount.add(kind);
    // The same rows in the same order say nothing new.
    const sign = `${rows.of} ${found.list.map((r) => `${r.tick} ${r.note ?? r.key ?? ''}`).join()}`;
    if (seen.has(sign)) return;
    seen.add(sign);
    out.push(usual ? { ...found, usual } : found);
  };
  for (const order of ORDERS) attempt(order ? { of: 'notes', order: [...order] } : { of: 'notes' });
  for (const of of KINDS) {
    // Where all bars have notes nothing tells whether one without would stand there: none is left out.
    if (of === 'bars') attempt({ of, empty: true });
    attempt({ of });
    if (of === 'events') for (const order of EVENT_ORDERS) attempt({ of, order: [...order] });
    if (of === 'seats') attempt({ of, empty: true });
  }
  // A line or a list for each key that is played.
  if (parents.length === 1) {
    const keys = keysOf(parents).map(([key]) => key);
    if (keys.length > 1 && keys.length === counts[0]) {
      attempt({ of: 'lanes', keys });
      attempt({ of: 'lanes', keys: [...keys].reverse() });
    }
  }
  for (const seat of target.seats) {
    attempt({ of: 'notes', seats: [seat.id] });
    attempt({ of: 'events', seats: [seat.id] });
  }
  // A list of its own for one key, which nothing in it says.
  if (!only && parents.length <= MOST_PARENTS)
    for (const [key, count] of keysOf(parents))
      if (count >= counts[0]!) attempt({ of: 'notes', keys: [key] });
  return out;
}

/** What explains a column, for every row of it to the last digit. */
export interface Explained {
  readonly value: Value;
  /** In words: "start in ms, rounded down". */
  readonly says: string;
}

export type Attempt = (value: Value, says: string) => void;

/** Under more of them a list for each key is not looked for. */
const MOST_PARENTS = 64;

/** The keys of a score, and how many notes each has. */
function keysOf(parents: readonly Context[]): [key: number, count: number][] {
  const { notes } = parents[0]!.beside.world;
  const by = new Map<number, number>();
  for (let i = 0; i < notes.count; i++) by.set(notes.key[i]!, (by.get(notes.key[i]!) ?? 0) + 1);
  return [...by].sort(([a], [b]) => a - b);
}
