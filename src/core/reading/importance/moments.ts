import { sortByKey } from '../../score/columns';
import type { Maps } from '../../score/inventory';
import type { Part } from '../../score/score';

/** Notes that begin this close together are heard as one: a strum, a chord of several players. */
export const TOGETHER_MS = 45;

/** The notes of several parts in the order of time, gathered to moments at which something is struck. */
export interface Moments {
  readonly parts: readonly Part[];
  readonly notes: number;
  /** Index into `parts` and of the note in it. */
  readonly part: Uint16Array;
  readonly index: Uint32Array;
  readonly count: number;
  /** First note of each moment; one more for the end. */
  readonly first: Uint32Array;
  /** Of each moment, by its first note. */
  readonly tick: Int32Array;
  readonly ms: Float64Array;
}

/** Linear in notes but for the sorting, which is a radix sort. */
export function momentsOf(parts: readonly Part[], { clock }: Pick<Maps, 'clock'>): Moments {
  const notes = parts.reduce((n, p) => n + p.notes.count, 0);
  const starts = new Float64Array(notes);
  const parted = new Uint16Array(notes);
  const indices = new Uint32Array(notes);
  let at = 0;
  parts.forEach((p, k) => {
    for (let i = 0; i < p.notes.count; i++) {
      starts[at] = p.notes.start[i]!;
      parted[at] = k;
      indices[at++] = i;
    }
  });
  const order = sortByKey(starts);
  const part = new Uint16Array(notes);
  const index = new Uint32Array(notes);
  const first = new Uint32Array(notes + 1);
  const tick = new Int32Array(notes);
  const ms = new Float64Array(notes);
  let count = 0;
  let last = -1;
  let lastMs = 0;
  for (let n = 0; n < notes; n++) {
    const from = order[n]!;
    part[n] = parted[from]!;
    index[n] = indices[from]!;
    const start = starts[from]!;
    if (n > 0 && start === last) continue;
    if (start !== last) lastMs = clock.msAt(start);
    last = start;
    if (count > 0 && lastMs - ms[count - 1]! <= TOGETHER_MS) continue;
    first[count] = n;
    tick[count] = start;
    ms[count++] = lastMs;
  }
  first[count] = notes;
  return {
    parts,
    notes,
    part,
    index,
    count,
    first,
    tick: tick.subarray(0, count),
    ms: ms.subarray(0, count),
  };
}
