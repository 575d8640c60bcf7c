import { isBounded } from './read-bounds';
import { candidatesOf, type Uncased } from './candidates';
import { newRow, type ReadChoice, type ReadRow } from './row';
import type { Cased } from './schema';

/**
 * Takes what stands in a place as each value that can stand there.
 * @param attempt puts what it is into a row of its own; false where it is none
 */
export function takeCase(
  value: Cased,
  into: ReadRow,
  attempt: (value: Uncased, into: ReadRow) => boolean,
): boolean {
  const can: ReadChoice['can'][number][] = [];
  for (const candidate of candidatesOf(value)) {
    const own = newRow(into.of);
    if (attempt(candidate.value, own) && own.values.every(isBounded))
      can.push({ candidate, values: own.values, rows: own.rows });
  }
  if (can.length === 0) return false;
  const choice = { can };
  into.choices.push(choice);
  lay(into, choice, likeliest(can));
  return true;
}

/** What is always the same before what varies: `0` for a short note is no length. */
export const likeliest = (can: ReadChoice['can']) =>
  can.find((c) => c.candidate.value.is === 'constant') ?? can[0]!;

/** What is meant takes the place of what stood there for the choice before. */
export function lay(row: ReadRow, choice: ReadChoice, meant: ReadChoice['can'][number]): void {
  const { values, rows } = meant;
  const at = row.values.findIndex((v) => v.choice === choice);
  const rest = row.values.filter((v) => v.choice !== choice);
  const own = values.map((v) => ({ ...v, choice }));
  rest.splice(at < 0 ? rest.length : at, 0, ...own);
  row.values.splice(0, row.values.length, ...rest);
  const any = new Set(choice.can.flatMap((c) => c.rows));
  if (any.size === 0) return;
  const others = row.rows.filter((r) => !any.has(r));
  row.rows.splice(0, row.rows.length, ...others, ...rows);
}
