/**
 * The assignment with the highest sum of worth: `worth[row][column]`, each row to at most one column
 * and each column to at most one row. Hungarian method, O(n²m) with n the fewer. Returns the column of
 * each row, −1 where it has none or where it would be worth nothing.
 */
export function assign(worth: readonly (readonly number[])[], columns: number): number[] {
  const rows = worth.length;
  if (rows <= columns) return solve(rows, columns, (r, c) => worth[r]![c]!);
  const out = new Array<number>(rows).fill(-1);
  solve(columns, rows, (r, c) => worth[c]![r]!).forEach((row, column) => {
    if (row >= 0) out[row] = column;
  });
  return out;
}

/** With no more rows than columns. */
function solve(rows: number, columns: number, worth: (r: number, c: number) => number): number[] {
  const cost = (r: number, c: number) => -worth(r, c);
  const u = new Float64Array(rows + 1);
  const v = new Float64Array(columns + 1);
  const rowOf = new Int32Array(columns + 1);
  const way = new Int32Array(columns + 1);
  for (let r = 1; r <= rows; r++) {
    rowOf[0] = r;
    let column = 0;
    const least = new Float64Array(columns + 1).fill(Infinity);
    const used = new Uint8Array(columns + 1);
    do {
      used[column] = 1;
      const row = rowOf[column]!;
      let delta = Infinity;
      let next = 0;
      for (let c = 1; c <= columns; c++) {
        if (used[c]) continue;
        const now = cost(row - 1, c - 1) - u[row]! - v[c]!;
        if (now < least[c]!) {
          least[c] = now;
          way[c] = column;
        }
        if (least[c]! < delta) {
          delta = least[c]!;
          next = c;
        }
      }
      for (let c = 0; c <= columns; c++) {
        if (used[c]) {
          u[rowOf[c]!]! += delta;
          v[c]! -= delta;
        } else least[c]! -= delta;
      }
      column = next;
    } while (rowOf[column] !== 0);
    do {
      const before = way[column]!;
      rowOf[column] = rowOf[before]!;
      column = before;
    } while (column !== 0);
  }
  const out = new Array<number>(rows).fill(-1);
  for (let c = 1; c <= columns; c++) {
    const row = rowOf[c]! - 1;
    if (row >= 0 && worth(row, c - 1) > 0) out[row] = c - 1;
  }
  return out;
}
