/** Columns of notes of which only their times are looked at; those of a score and of a view are. */
export interface SpanColumns {
  readonly count: number;
  readonly start: ArrayLike<number>;
  readonly end: ArrayLike<number>;
}

/** The most notes that sound together; one that ends where another begins makes room for it. */
export function mostAtOnce(all: readonly SpanColumns[]): number {
  const total = all.reduce((n, c) => n + c.count, 0);
  const starts = new Int32Array(total);
  const ends = new Int32Array(total);
  let n = 0;
  for (const { count, start, end } of all)
    for (let i = 0; i < count; i++) {
      // A note of no length never sounds together with another.
      if (end[i]! <= start[i]!) continue;
      starts[n] = start[i]!;
      ends[n++] = end[i]!;
    }
  const begin = starts.subarray(0, n).sort();
  const stop = ends.subarray(0, n).sort();
  let most = 0;
  for (let i = 0, gone = 0; i < n; i++) {
    while (stop[gone]! <= begin[i]!) gone++;
    most = Math.max(most, i + 1 - gone);
  }
  return most;
}
