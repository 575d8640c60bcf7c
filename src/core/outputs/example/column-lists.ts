import {
  candidatesOf,
  type Attempt,
  type Candidate,
  type Column,
  type Explained,
} from './candidates';

const MOST_SIGNS = 6;

/** What may part the entries of a list: signs that stand between letters, the longest first. */
function signsIn(cells: readonly string[]): string[] {
  const found = new Set<string>();
  for (const cell of cells)
    for (const [sign] of cell.slice(1, -1).matchAll(/[^\p{L}\p{N}#♯♭.]+/gu)) found.add(sign);
  return [...found].sort((a, b) => b.length - a.length).slice(0, MOST_SIGNS);
}

/**
 * A cell that holds an entry for each of the notes of its row, as `48+52+55`: parted by the sign that
 * gives as many as there are notes, and each entry explained for itself.
 */
export function lists(
  column: Column,
  candidate: Candidate,
  attempt: Attempt,
  explain: (column: Column, candidate: Candidate) => Explained[],
): void {
  if (column.plain || !candidate.list.some((row) => row.notes)) return;
  for (const between of signsIn(column.cells)) {
    const entries = column.cells.map((c) => (c === '' ? [] : c.split(between)));
    const counts = entries.map((e) => e.length);
    for (const inner of candidatesOf(candidate.at, counts, 'notes')) {
      if (inner.list.length === 0) continue;
      const own: Column = { cells: entries.flat(), plain: false, decimal: column.decimal };
      const best = explain(own, inner).find((e) => e.value.is !== 'constant');
      if (!best) continue;
      const value = { is: 'list' as const, each: inner.rows, between, parts: [best.value] };
      attempt(value, `a list, parted by “${between}”: ${best.says}`);
      return;
    }
  }
}
