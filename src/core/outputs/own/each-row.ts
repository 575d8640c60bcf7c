import { rowsOf, type Row } from './rows';
import type { World } from './world';
import type { Rows } from '../../formats/own/schema';
import type { Beside } from './values';

/** Visits the rows of a kind with what their values depend on. */
export function eachRow(
  rows: Rows,
  world: World,
  inside: Row | null,
  visit: (row: Row, beside: Beside) => void,
): void {
  let before: Row | null = null;
  rowsOf(rows, world, inside).forEach((row, index) => {
    visit(row, { world, inside, before, index });
    before = row;
  });
}

/** A place in the tree: the row that is written, and what is beside it. */
export interface Here {
  readonly row: Row | null;
  readonly beside: Beside;
}
export const rootOf = (world: World): Here => ({
  row: null,
  beside: { world, inside: null, before: null, index: 0 },
});
