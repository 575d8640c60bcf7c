import type { InlineNode, LineNode, Rows, Value } from '../../formats/own/schema';
import { rowsOf, type Row } from '../own/rows';
import type { World } from '../own/world';
import type { Found } from './found';
import { lexerOf, onceParts } from './line-parts';
import { type Shape, isLeaf, solve } from './solve';

const PER_QUARTER = [4, 2, 8, 3, 6, 12, 1, 16, 24];
const PER_BAR = [16, 8, 32, 12, 24, 4, 6, 48, 64];
/** More signs than that are no cells. */
const MOST_SIGNS = 5;
const MOST_LINES = 200_000;

const BARS: Rows = { of: 'bars', empty: true };

type State = 'yes' | 'no' | 'held' | 'last';

/** Cells as signs: a line for each moment and a sign for each key, or a line for each key. */
export function describeGrid(lines: readonly string[], world: World): Found[] {
  if (lines.length > MOST_LINES || lines.length < 2) return [];
  const keys = [...new Set(world.notes.key.subarray(0, world.notes.count))].sort((a, b) => a - b);
  return [...byMoment(lines, keys, world), ...byKey(lines, keys, world)];
}

/** A line for each cell, a sign for each key; lines between bars may part them. */
function byMoment(lines: readonly string[], keys: readonly number[], world: World): Found[] {
  const isGrid = (l: string) => l.length === keys.length && keys.length > 1;
  const from = lines.findIndex(isGrid);
  const to = lines.findLastIndex(isGrid) + 1;
  if (to - from < 2) return [];
  const body = lines.slice(from, to);
  const grid = body.filter(isGrid);
  const between = [...new Set(body.filter((l) => !isGrid(l)))];
  if (between.length > 1 || signsOf(grid.join('')) > MOST_SIGNS) return [];
  const before = lines.slice(0, from).map((l) => onceParts(l, world));
  const behind = lines.slice(to).map((l) => onceParts(l, world));
  const inBars = between.length === 1;
  for (const cells of cellRows(world)) {
    const at = inBars
      ? rowsOf(BARS, world, null).map((bar) => rowsOf(cells, world, bar))
      : [rowsOf(cells, world, null)];
    const count = at.reduce((sum, own) => sum + own.length, 0);
    if (count !== grid.length) continue;
    const sizes = at.map((own) => own.length);
    if (inBars && (lines[to] !== between[0] || !partedAt(body, sizes, between[0]!))) continue;
    for (const order of [keys, [...keys].reverse()]) {
      const told = at.flat().map((row) => order.map((key) => stateOf(row, key)));
      const value = struck(
        told,
        grid.map((l) => [...l]),
      );
      if (!value) continue;
      const line: LineNode = {
        parts: [{ each: { of: 'lanes', keys: [...order] }, between: '', parts: [{ value }] }],
      };
      const node: LineNode = { each: cells, lines: [line] };
      const last =
        body.length > 0 && inBars ? [{ parts: onceParts(between[0]!, world).parts }] : [];
      return [
        {
          findings: [
            ...before.flatMap((b) => b.findings),
            { where: 'each line', says: sayCells(cells), rows: grid.length, is: 'explained' },
            {
              where: 'each sign',
              says: `what is struck of ${order.length} keys`,
              rows: grid.length,
              is: 'explained',
            },
            ...behind.flatMap((b) => b.findings),
          ],
          container: {
            kind: 'lines',
            lines: [
              ...before.map(({ parts }): LineNode => ({ parts })),
              inBars ? { each: BARS, lines: [node, ...last] } : node,
              ...(inBars ? behind.slice(1) : behind).map(({ parts }): LineNode => ({ parts })),
            ],
          },
        },
      ];
    }
  }
  return [];
}

/** Whether a line stands behind the cells of each bar. */
function partedAt(body: readonly string[], sizes: readonly number[], between: string): boolean {
  let at = 0;
  for (const [bar, size] of sizes.entries()) {
    at += size;
    if (bar === sizes.length - 1) return at === body.length;
    if (body[at++] !== between) return false;
  }
  return false;
}

/** A line for each key, with what tells the key before its cells and nothing but signs behind. */
function byKey(lines: readonly string[], keys: readonly number[], world: World): Found[] {
  if (keys.length < 2) return [];
  const lexer = lexerOf(world);
  const cut = lines.map((l) => /^(.*?[\s:=|]+)?((?:[^\s:=|]+\|)*[^\s:=|]+)(\|?)$/.exec(l));
  const size = (i: number) => cut[i]?.[2]!.length ?? 0;
  const alike = (i: number) => keys.every((_, k) => size(i + k) === size(i)) && size(i) >= 4;
  const from = cut.findIndex((_, i) => alike(i));
  const body = lines.slice(from, from + keys.length);
  const own = cut.slice(from, from + keys.length);
  if (from < 0 || body.length !== keys.length) return [];
  const heads = own.map((c) => c![1] ?? '');
  // Where bars are parted by a line, it stands at one place for all keys.
  const bars = own[0]![2]!.split('|').map((b) => b.length);
  if (own.some((c) => c![2]!.split('|').some((b, i) => b.length !== bars[i]))) return [];
  const cells = own.map((c) => [...c![2]!.replaceAll('|', '')]);
  const ends = own.map((c) => c![3]!);
  if (new Set(ends).size > 1) return [];
  if (signsOf(cells.flat().join('')) > MOST_SIGNS) return [];
  for (const rows of cellRows(world)) {
    const inBars = bars.length > 1;
    const byBar = inBars
      ? rowsOf(BARS, world, null).map((bar) => rowsOf(rows, world, bar))
      : [rowsOf(rows, world, null)];
    if (byBar.length !== bars.length || byBar.some((b, i) => b.length !== bars[i])) continue;
    const at = byBar.flat();
    for (const order of [keys, [...keys].reverse()]) {
      const told = order.map((key) => at.map((row) => stateOf(row, key)));
      const value = struck(told, cells);
      if (!value) continue;
      const lanes: Rows = { of: 'lanes', keys: [...order] };
      const line: InlineNode = { each: rows, between: '', parts: [{ value }] };
      const head = headOf(heads, lanes, world, lexer);
      if (!head) continue;
      return [
        {
          findings: [
            ...head.findings,
            { where: 'each sign', says: sayCells(rows), rows: at.length, is: 'explained' },
          ],
          container: {
            kind: 'lines',
            lines: [
              ...lines.slice(0, from).map((l): LineNode => ({ parts: onceParts(l, world).parts })),
              {
                each: lanes,
                lines: [
                  {
                    parts: [
                      ...head.parts,
                      inBars ? { each: BARS, between: '|', parts: [line] } : line,
                      ...(ends[0] ? [ends[0]] : []),
                    ],
                  },
                ],
              },
              ...lines
                .slice(from + keys.length)
                .map((l): LineNode => ({ parts: onceParts(l, world).parts })),
            ],
          },
        },
      ];
    }
  }
  return [];
}

/** What stands before the cells of each key. */
function headOf(
  heads: readonly string[],
  lanes: Rows,
  world: World,
  lexer: ReturnType<typeof lexerOf>,
) {
  const tokens = heads.map(lexer.tokensOf);
  if (tokens.some((t) => t.length !== tokens[0]!.length)) return null;
  const varies = tokens[0]!.map((t, i) => tokens.some((o) => o[i] !== t));
  const items = tokens.map((row): Shape => ({
    fields: row.flatMap((t, i): [string, Shape][] =>
      varies[i] ? [[String(i), { leaf: t, plain: false }]] : [],
    ),
  }));
  if (!varies.includes(true)) return { parts: heads[0] === '' ? [] : [heads[0]!], findings: [] };
  const { solved, findings } = solve({ items, always: true, rows: lanes }, world);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  if (findings.some((f) => f.is === 'unexplained')) return null;
  const byPlace = new Map(solved.item.fields.map(([name, s]) => [Number(name), s]));
  const parts = tokens[0]!.map((t, i) => {
    const s = byPlace.get(i);
    return s && isLeaf(s) ? { value: s.value } : t;
  });
  return { parts, findings };
}

function* cellRows({ maps, endTick }: World): Iterable<Rows> {
  for (const perQuarter of PER_QUARTER) yield { of: 'cells', perQuarter, empty: true };
  if (maps.bars.barCount(endTick) > 0)
    for (const perBar of PER_BAR) yield { of: 'cells', perBar, empty: true };
}

const sayCells = ({ perBar, perQuarter }: Rows): string =>
  perBar === undefined ? `a cell, ${perQuarter} to a quarter` : `a cell, ${perBar} to a bar`;

const signsOf = (text: string): number => new Set(text).size;

const stateOf = (row: Row, key: number): State => row.cell!.grid.stateAt(row.cell!.at, key);

/** Which sign stands for what; null where one stands for several or one thing has several. */
function struck(told: readonly State[][], signs: readonly string[][]): Value | null {
  const by = new Map<State, string>();
  for (const [i, row] of told.entries())
    for (const [k, state] of row.entries()) {
      const sign = signs[i]?.[k];
      const there = by.get(state);
      if (sign === undefined || (there !== undefined && there !== sign)) return null;
      by.set(state, sign);
    }
  const [yes, no] = [by.get('yes'), by.get('no')];
  if (yes === undefined || no === undefined || yes === no) return null;
  const held = by.get('held') ?? by.get('last');
  const last = by.get('last');
  return {
    is: 'struck',
    yes,
    no,
    ...(held !== undefined && held !== no ? { held } : {}),
    ...(last !== undefined && last !== (held ?? no) ? { last } : {}),
  };
}
