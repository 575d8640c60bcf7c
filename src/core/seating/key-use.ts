import type { SpanColumns } from '../score/at-once';

/** Columns of notes of which only this is looked at; those of a score and of a view are. */
export interface KeyColumns extends SpanColumns {
  readonly noteNumber: ArrayLike<number>;
}

/** How many notes stand on each of the 128 keys. */
export function keyCounts(all: readonly KeyColumns[]): Uint32Array {
  const out = new Uint32Array(128);
  for (const { count, noteNumber } of all) for (let i = 0; i < count; i++) out[noteNumber[i]!]!++;
  return out;
}

/** Counts of the same notes some semitones higher; what leaves the 128 keys is not counted. */
export function shifted(counts: Uint32Array, semitones: number): Uint32Array {
  const out = new Uint32Array(128);
  for (let key = 0; key < 128; key++) out[key] = counts[key - semitones] ?? 0;
  return out;
}

/** Counts of several parts together. */
export function summedCounts(all: readonly Uint32Array[]): Uint32Array {
  const out = new Uint32Array(128);
  for (const counts of all) for (let key = 0; key < 128; key++) out[key]! += counts[key]!;
  return out;
}

/** How many of the counted notes stand on keys that are allowed. */
export function fitting(counts: ArrayLike<number>, allowed: readonly boolean[]): number {
  let fits = 0;
  for (let key = 0; key < 128; key++) if (allowed[key]) fits += counts[key]!;
  return fits;
}

/** Notes of one that begin while the other sounds the same key. */
export function clashes(one: readonly KeyColumns[], other: readonly KeyColumns[]): number {
  const spans = new Map<number, [number, number][]>();
  for (const { count, start, end, noteNumber } of other)
    for (let i = 0; i < count; i++) {
      const list = spans.get(noteNumber[i]!);
      const span: [number, number] = [start[i]!, Math.max(end[i]!, start[i]! + 1)];
      if (list) list.push(span);
      else spans.set(noteNumber[i]!, [span]);
    }
  for (const list of spans.values()) {
    list.sort((a, b) => a[0] - b[0]);
    // The latest end so far, so that one look is enough.
    for (let i = 1; i < list.length; i++) list[i]![1] = Math.max(list[i]![1], list[i - 1]![1]);
  }
  let found = 0;
  for (const { count, start, noteNumber } of one)
    for (let i = 0; i < count; i++) {
      const list = spans.get(noteNumber[i]!);
      if (!list) continue;
      let low = 0;
      let high = list.length;
      while (low < high) {
        const mid = (low + high) >> 1;
        if (list[mid]![0] <= start[i]!) low = mid + 1;
        else high = mid;
      }
      if (low > 0 && list[low - 1]![1] > start[i]!) found++;
    }
  return found;
}
