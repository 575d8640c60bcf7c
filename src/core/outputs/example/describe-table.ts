import type { World } from '../own/world';
import { type Shape, isLeaf, solve } from './solve';
import type { Found } from './found';
import { NUMERIC, onceParts } from './line-parts';

const cellsOf = (line: string, mark: string): string[] | null => {
  const out: string[] = [];
  let rest = line;
  for (;;) {
    const quoted = /^"((?:[^"]|"")*)"/.exec(rest);
    const cell = quoted ? quoted[0] : rest.split(mark, 1)[0]!;
    if (quoted && rest.length > cell.length && !rest.startsWith(mark, cell.length)) return null;
    out.push(quoted ? quoted[1]!.replaceAll('""', '"') : cell);
    if (rest.length === cell.length) return out;
    rest = rest.slice(cell.length + mark.length);
  }
};

/** More lines before a table are no head of it. */
const MOST_BEFORE = 40;

export function describeTable(lines: readonly string[], world: World): Found[] {
  const out: Found[] = [];
  // Signs that stand for nothing else first: a comma may be one of decimals, a space one of a name.
  for (const mark of ['\t', ';', '|', ',', ' ']) {
    const rows = lines.map((l) => cellsOf(l, mark));
    const width = rows.at(-1)?.length ?? 0;
    if (width < 2) continue;
    let from = lines.length;
    while (from > 0 && rows[from - 1]?.length === width) from--;
    const body = rows.slice(from) as string[][];
    if (body.length < 2 || from > MOST_BEFORE) continue;
    for (const heading of [true, false]) {
      const head = heading ? body[0]! : null;
      const cells = heading ? body.slice(1) : body;
      if (cells.length === 0 || (head && head.some((c) => NUMERIC.test(c)))) continue;
      const comma = mark !== ',' && cells.some((r) => r.some((c) => /^-?\d+,\d+$/.test(c)));
      const decimal = comma ? (',' as const) : ('.' as const);
      const shape: Shape = {
        items: cells.map((r) => ({
          fields: r.map((c, i): [string, Shape] => [
            head?.[i] ?? `column ${i + 1}`,
            { leaf: c, plain: false, decimal },
          ]),
        })),
        always: true,
      };
      const { solved, findings } = solve(shape, world);
      if (!('each' in solved) || !('fields' in solved.item)) continue;
      const quotes = lines.slice(from).every((l) => l.startsWith('"') && l.endsWith('"'));
      const before = lines.slice(0, from).map((l) => onceParts(l, world));
      out.push({
        findings: [...before.flatMap((b) => b.findings), ...findings],
        container: {
          kind: 'table',
          ...(mark === ',' ? {} : { delimiter: mark }),
          ...(heading ? {} : { heading: false }),
          ...(quotes ? { quotes: 'always' as const } : {}),
          ...(comma ? { decimal } : {}),
          ...(before.length > 0 ? { before: before.map((b) => b.parts) } : {}),
          rows: solved.each,
          columns: solved.item.fields.map(([name, s], i) => ({
            name: head?.[i] ?? name,
            value: isLeaf(s) ? s.value : { is: 'constant', value: '' },
          })),
        },
      });
    }
  }
  return out;
}
