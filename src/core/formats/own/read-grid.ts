import { Unread, type ReadRow } from './row';
import type { Rows } from './schema';

// Rows of which a description says how many there are: a lane for each key, so many cells to a bar.

/** How many rows of a kind stand together; null where the description does not say. */
export function fixedCount({ of, keys, perBar, empty }: Rows, inside: Rows | null): number | null {
  if (of === 'lanes') return keys?.length ?? null;
  return of === 'cells' && empty && inside?.of === 'bars' ? (perBar ?? null) : null;
}

/** Every cell has all of its lanes, and every bar all of its cells. */
export function checkGrid(root: ReadRow): void {
  const waiting: ReadRow[] = [root];
  for (let row = waiting.pop(); row; row = waiting.pop()) {
    const found = new Map<Rows, number>();
    for (const inner of row.rows) {
      if (inner.of) found.set(inner.of, (found.get(inner.of) ?? 0) + 1);
      if (inner.rows.length > 0) waiting.push(inner);
    }
    for (const [of, count] of found) {
      const wanted = fixedCount(of, row.of);
      if (wanted !== null && wanted !== count)
        throw new Unread(
          placeOf(row),
          `${count} ${of.of} stand together where ${wanted} are described.`,
        );
    }
  }
}

export function placeOf(row: ReadRow): string {
  const first = row.values[0] ?? row.rows[0]?.values[0];
  return first ? `offset ${first.from}` : 'the start';
}
