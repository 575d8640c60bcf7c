import type { LineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import type { Found } from './found';
import { blocksOf, type Block, type BlockLine } from './line-blocks';
import { listLines } from './line-lists';
import { mixedLines } from './line-mixed';
import {
  isLoose,
  isRow,
  MOST_ONCE,
  plainly,
  rowLines,
  tellOnce,
  type Told,
  type Usual,
} from './line-once';
import { lexerOf, onceParts, type Lexer } from './line-parts';
import { fieldsOf, partsOf, variesIn } from './line-rows';
import { isLeaf, type Shape, type Solved, solve, timesIn } from './solve';

/** Lines as blocks: rows of one kind, blocks of several kinds, and between them what stands once. */
export function describeLines(lines: readonly string[], world: World): Found[] {
  const out: Found[] = [];
  // A line where a note begins and another where it ends are rows of one list, as near as they may be.
  const mixed = mixedLines(lines, world);
  if (mixed && isWhole(mixed)) return [mixed];
  // What looks like the name of a note may be a word with a number behind it.
  for (const noteNames of [true, false])
    for (const apart of [0, 1]) {
      const lexer = lexerOf(world, noteNames);
      const found = inBlocks(blocksOf(lines, lexer.kindOf, apart), world, lexer);
      if (found) out.push(found);
      if (found && isWhole(found)) return [found];
    }
  if (mixed) out.push(mixed);
  const lists = listLines(lines, world);
  if (lists) out.push(lists);
  return out;
}

const isWhole = ({ findings }: Found): boolean => findings.every((f) => f.is !== 'unexplained');

/** A file that falls into more pieces is not understood by its lines. */
const MOST_BLOCKS = 60;

/** Most rows first: how they tell time is how the few others are likely to. */
function inBlocks(blocks: readonly Block[], world: World, lexer: Lexer): Found | null {
  const told = new Map<Block, Told>();
  let usual: Usual;
  // A few lines stand once above rows and below them; each may be a row of another kind.
  const isHead = blocks.filter((b) => 'once' in b).length <= MOST_ONCE;
  const size = (b: Block) => sizeOf(b, lexer);
  const bySize = [...blocks].sort((a, b) => size(b) - size(a));
  if (!bySize[0] || size(bySize[0]) < 2 || blocks.length > MOST_BLOCKS) return null;
  for (const block of bySize) {
    const own =
      'once' in block && !isHead ? plainly(block.once, world) : tell(block, world, lexer, usual);
    if (!own) return null;
    told.set(block, own);
    if (own.solved) usual = [...(usual ?? []), ...timesIn(own.solved)];
  }
  if (isHead) together(blocks, told, world, lexer, usual);
  const all = blocks.map((b) => told.get(b)!);
  return {
    findings: all.flatMap((t) => t.findings),
    container: { kind: 'lines', lines: all.flatMap((t) => [...t.nodes]) },
  };
}

/** Lines that stand once and say less for themselves than as one row of several lines. */
function together(
  blocks: readonly Block[],
  told: Map<Block, Told>,
  world: World,
  lexer: Lexer,
  usual: Usual,
): void {
  for (let from = 0; from + 1 < blocks.length; from++)
    for (const size of [2, 3]) {
      const own = blocks.slice(from, from + size);
      if (own.length < size || !own.every((b) => 'once' in b && isLoose(told.get(b)!))) continue;
      const lines = own.map((b) => ('once' in b ? b.once : ''));
      const rows = lines.map((l): BlockLine => ({ many: false, lines: [[l]] }));
      const found = tellBlocks(rows, 1, world, lexer, usual);
      if (!found || !isRow(found)) continue;
      told.set(own[0]!, found);
      for (const rest of own.slice(1)) told.set(rest, { nodes: [], findings: [] });
      break;
    }
}

/** How many rows it has; a line with a long list in it has that many. */
const sizeOf = (b: Block, { tokensOf, listOf }: Lexer): number =>
  'once' in b
    ? tokensOf(b.once).reduce((n, t) => Math.max(n, listOf(t)?.entries.length ?? 0), 0)
    : 'rows' in b
      ? b.rows.length
      : b.times;

function tell(block: Block, world: World, lexer: Lexer, usual: Usual): Told | null {
  if ('once' in block) return tellOnce(block.once, world, lexer, usual);
  if ('blocks' in block) return tellBlocks(block.blocks, block.times, world, lexer, usual);
  const rows = rowLines(block.rows, world, lexer, usual);
  if (rows) return rows;
  // Lines that are alike by chance stand once, each.
  const each = block.rows.length > 12 ? null : block.rows.map((l) => onceParts(l, world));
  return (
    each && {
      nodes: each.map(({ parts }) => ({ parts })),
      findings: each.flatMap((e) => e.findings),
    }
  );
}

/** A line that tells how long it is since the last and nothing else: nobody waits for nothing. */
const isWait = (own: Solved): boolean => {
  const values = 'fields' in own ? own.fields.map(([, s]) => s) : [];
  const [only] = values;
  return (
    values.length === 1 && isLeaf(only!) && only.value.is === 'time' && only.value.from === 'last'
  );
};

/** The same line with 0 for its first number. */
function zeroed(tokens: readonly string[]): string[] {
  const at = tokens.findIndex((t) => /^-?\d/.test(t));
  return tokens.map((t, i) => (i === at ? '0' : t));
}

/** Several kinds of lines again and again: a row each, and rows inside it. */
function tellBlocks(
  blocks: readonly BlockLine[],
  times: number,
  world: World,
  lexer: Lexer,
  usual: Usual,
): Told | null {
  const cut = blocks.map(({ lines, many }) => {
    const told = lines.map((own) => own.map(lexer.tokensOf));
    // A line that is left out would have said 0.
    const skip = !many && told.some((own) => own.length === 0);
    const none = skip ? [zeroed(told.flat()[0]!)] : [];
    const tokens = told.map((own) => (own.length === 0 ? none : own));
    return { many, skip, tokens, varies: variesIn(tokens.flat()) };
  });
  if (cut.some((c) => c.varies === null)) return null;
  const items = Array.from({ length: times }, (_, n): Shape => {
    const fields = cut.flatMap(({ many, tokens, varies }, k): [string, Shape][] => {
      const own = tokens[n]!.map((t): Shape => ({ fields: fieldsOf(t, varies!, lexer) }));
      if (many) return [[`line ${k + 1}`, { items: own, always: true }]];
      return [[`line ${k + 1}`, own[0]!]];
    });
    return { fields };
  });
  const { solved, findings } = solve({ items, always: true }, world, usual);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  const inner: LineNode[] = [];
  const hasRows = cut.some((c) => c.many);
  for (const [k, [, own]] of solved.item.fields.entries()) {
    const first = cut[k]!.tokens.flat()[0]!;
    const skip = cut[k]!.skip || (hasRows && isWait(own));
    if ('fields' in own)
      inner.push({
        parts: partsOf(first, own.fields, lexer),
        ...(skip ? { skip: 'zero' } : {}),
      });
    else if ('each' in own && 'fields' in own.item)
      inner.push({ each: own.each, lines: [{ parts: partsOf(first, own.item.fields, lexer) }] });
    else return null;
  }
  return { solved, findings, nodes: [{ each: solved.each, lines: inner }] };
}
