import type { Value } from '../../formats/own/schema';
import type { Attempt, Candidate, Column } from './candidates';

/** More keys have no bit each. */
const MOST_BITS = 32;

/**
 * A column of strikes that tells of one key, or of all in bits: its velocity or nothing, a sign where it
 * is struck, a bit for each.
 */
export function keyByKey(column: Column, candidate: Candidate, attempt: Attempt): void {
  const { list, at } = candidate;
  const { notes } = at[0]!.beside.world;
  const keysOf = (i: number) => list[i]!.notes!.map((n) => notes.key[n]!);
  const words = [...new Set(column.cells)];
  const all = [...new Set(list.flatMap((_, i) => keysOf(i)))].sort((a, b) => a - b);
  bits(column, candidate, all, attempt);
  const isNothing = (c: string) => /^(-?0*|[-.])$/.test(c) || words.length === 2;
  for (const key of all) {
    const struck = list.findIndex((_, i) => keysOf(i).includes(key));
    const rest = list.findIndex((_, i) => !keysOf(i).includes(key));
    if (rest >= 0 && !isNothing(column.cells[rest]!)) continue;
    attempt({ is: 'velocity', key }, `velocity of key ${key}, else 0`);
    if (words.length !== 2 || rest < 0) continue;
    const [yes, no] = [column.cells[struck]!, column.cells[rest]!];
    attempt({ is: 'struck', key, yes, no }, `“${yes}” where key ${key} is struck, else “${no}”`);
  }
}

/** Which key has which bit is told by the rows: where a key is struck its bit is always there. */
function bits(
  { cells }: Column,
  { list, at }: Candidate,
  all: readonly number[],
  attempt: Attempt,
) {
  if (all.length > MOST_BITS || !cells.every((c) => /^\d{1,10}$/.test(c))) return;
  const { notes } = at[0]!.beside.world;
  const numbers = cells.map(Number);
  const most = numbers.reduce((a, b) => Math.max(a, b), 0);
  if (most < 1 || most >= 2 ** MOST_BITS) return;
  const has = (i: number, bit: number) => Math.floor(numbers[i]! / 2 ** bit) % 2 === 1;
  const byBit = new Map<number, number>();
  for (const key of all) {
    const struck = list.map((r) => r.notes!.some((n) => notes.key[n] === key));
    for (let bit = 0; 2 ** bit <= most; bit++) {
      if (byBit.has(bit) || !struck.every((is, i) => is === has(i, bit))) continue;
      byBit.set(bit, key);
      break;
    }
  }
  if (byBit.size !== all.length) return;
  const keys = Array.from({ length: all.length }, (_, bit) => byBit.get(bit));
  // Bits that no key has are not known.
  if (keys.includes(undefined)) return;
  const value: Value = { is: 'key', as: 'bits', keys: keys as number[] };
  attempt(value, `a bit for each of ${all.length} keys`);
}
