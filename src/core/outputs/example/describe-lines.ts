import type { InlineNode, LineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import type { Explained } from './candidates';
import type { Found } from './found';
import { blocksOf, type Block, type BlockLine } from './line-blocks';
import { listLines } from './line-lists';
import { lexerOf, onceParts, type Lexer } from './line-parts';
import {
  type Finding,
  type Shape,
  type Solved,
  type SolvedField,
  isLeaf,
  solve,
  timesIn,
} from './solve';

interface Told {
  readonly nodes: readonly LineNode[];
  readonly findings: readonly Finding[];
  readonly solved?: Solved;
}
type Usual = readonly Explained[] | undefined;

/** Lines as blocks: rows of one kind, blocks of several kinds, and between them what stands once. */
export function describeLines(lines: readonly string[], world: World): Found[] {
  const out: Found[] = [];
  // A line where a note begins and another where it ends are rows of one list, as near as they may be.
  const mixed = mixedLines(lines, world);
  if (mixed && isWhole(mixed)) return [mixed];
  // What looks like the name of a note may be a word with a number behind it.
  for (const noteNames of [true, false]) {
    const lexer = lexerOf(world, noteNames);
    const found = inBlocks(blocksOf(lines, lexer.kindOf), world, lexer);
    if (found) out.push(found);
    if (found && isWhole(found)) break;
  }
  if (mixed) out.push(mixed);
  const lists = listLines(lines, world);
  if (lists) out.push(lists);
  return out;
}

const isWhole = ({ findings }: Found): boolean => findings.every((f) => f.is !== 'unexplained');

/** A file that falls into more pieces is not understood by its lines. */
const MOST_BLOCKS = 60;

const MOST_ONCE = 16;

/** A line that stands once, with the facts in it. */
function plainly(line: string, world: World): Told {
  const { parts, findings } = onceParts(line, world);
  return { nodes: [{ parts }], findings };
}

/** More kinds of lines are no rows of one list. */
const MOST_KINDS = 4;

/** Rows of several kinds, as they come: a line is of this kind or of that by what its row is of. */
function mixedLines(lines: readonly string[], world: World): Found | null {
  const lexer = lexerOf(world);
  const kinds = lines.map(lexer.kindOf);
  const counts = new Map<string, number>();
  for (const kind of kinds) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  const most = [...counts].sort((a, b) => b[1] - a[1]).filter(([, count]) => count > 1);
  for (let size = 2; size <= Math.min(MOST_KINDS, most.length); size++) {
    // In the order in which they are met first.
    const chosen = new Set(most.slice(0, size).map(([kind]) => kind));
    const own = [...counts.keys()].filter((kind) => chosen.has(kind));
    const from = kinds.findIndex((k) => own.includes(k));
    const to = kinds.findLastIndex((k) => own.includes(k)) + 1;
    if (kinds.slice(from, to).some((k) => !own.includes(k))) continue;
    const found = inKinds(lines.slice(from, to), own, world, lexer);
    if (!found) continue;
    const usual = found.solved && timesIn(found.solved);
    const before = lines.slice(0, from).map((l) => tellOnce(l, world, lexer, usual));
    const behind = lines.slice(to).map((l) => tellOnce(l, world, lexer, usual));
    const all = [...before, found, ...behind];
    return {
      findings: all.flatMap((t) => t.findings),
      container: { kind: 'lines', lines: all.flatMap((t) => [...t.nodes]) },
    };
  }
  return null;
}

function inKinds(
  body: readonly string[],
  kinds: readonly string[],
  world: World,
  lexer: Lexer,
): Told | null {
  const tokens = body.map(lexer.tokensOf);
  const ofKind = kinds.map((kind) => tokens.filter((_, i) => lexer.kindOf(body[i]!) === kind));
  const varies = ofKind.map(variesIn);
  if (varies.includes(null)) return null;
  const items = tokens.map((row, i): Shape => {
    const k = kinds.indexOf(lexer.kindOf(body[i]!));
    const fields = fieldsOf(row, varies[k]!, lexer);
    return { fields: [[`line ${k + 1}`, { fields }]] };
  });
  const { solved, findings } = solve({ items, always: true }, world);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  const inner = solved.item.fields.map(([name, own, when]): LineNode | null => {
    const first = ofKind[Number(name.slice(5)) - 1]![0]!;
    return 'fields' in own && when ? { parts: partsOf(first, own.fields, lexer), when } : null;
  });
  if (inner.includes(null)) return null;
  return { solved, findings, nodes: [{ each: solved.each, lines: inner as LineNode[] }] };
}

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

/** Numbers stand in it that nothing explains. */
const isOpen = ({ nodes }: Told): boolean =>
  nodes.some(({ parts }) => parts?.some((p) => typeof p === 'string' && /\d/.test(p)));
/** What might be a part of more than itself. */
const isLoose = (t: Told): boolean => isOpen(t) || t.solved !== undefined;
/** One row of which every number is explained. */
const isRow = ({ findings }: Told): boolean =>
  findings.some((f) => f.is === 'explained') &&
  findings.every((f) => f.is === 'explained' || (f.is === 'constant' && !/\d/.test(f.says)));

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

/** A line that stands once; where a fact says less of it than a row of its own, it is a list of one. */
function tellOnce(line: string, world: World, lexer: Lexer, usual: Usual): Told {
  const own = plainly(line, world);
  const tokens = lexer.tokensOf(line);
  const list = tokens.some(lexer.listOf) ? listOnce(tokens, world, lexer, usual) : null;
  if (list) return list;
  if (isOpen(own) || tokens.some((t) => lexer.isValue(t) && !/^-?\d/.test(t))) {
    const row = rowLines([line], world, lexer, usual);
    if (row && isRow(row)) return row;
  }
  return own;
}

const fieldsOf = (
  tokens: readonly string[],
  varies: readonly boolean[],
  { isValue, listOf }: Lexer,
): [string, Shape][] =>
  tokens.flatMap((t, i): [string, Shape][] => {
    const leaf = (text: string): Shape => ({ leaf: text.replace(/%$/, ''), plain: false });
    const list = listOf(t);
    if (list) return [[`place ${i + 1}`, { items: list.entries.map(leaf), always: true }]];
    return varies[i] || isValue(t) ? [[`place ${i + 1}`, leaf(t)]] : [];
  });

/** The places where lines of one kind differ; null where they are not cut alike. */
function variesIn(tokens: readonly (readonly string[])[]): boolean[] | null {
  const [first] = tokens;
  if (!first || tokens.some((t) => t.length !== first.length)) return null;
  return first.map((t, i) => tokens.some((o) => o[i] !== t));
}

/** A line with a long list in it; around it stands what stands once. */
function listOnce(
  tokens: readonly string[],
  world: World,
  lexer: Lexer,
  usual: Usual,
): Told | null {
  const at = tokens.findIndex((t) => lexer.listOf(t));
  const before = onceParts(tokens.slice(0, at).join(''), world);
  const behind = onceParts(tokens.slice(at + 1).join(''), world);
  const [[, shape]] = fieldsOf([tokens[at]!], [true], lexer) as [[string, Shape]];
  const { solved, findings } = solve(shape, world, usual);
  if (!('each' in solved)) return null;
  const list = partsOf([tokens[at]!], [['place 1', solved]], lexer);
  return {
    solved,
    findings: [...before.findings, ...findings, ...behind.findings],
    nodes: [{ parts: [...before.parts, ...list, ...behind.parts] }],
  };
}

/** Lines of one kind: values where they differ, letters where they do not. */
function rowLines(body: readonly string[], world: World, lexer: Lexer, usual: Usual): Told | null {
  const tokens = body.map(lexer.tokensOf);
  const varies = variesIn(tokens);
  if (!varies) return null;
  const items = tokens.map((row): Shape => ({ fields: fieldsOf(row, varies, lexer) }));
  const { solved, findings } = solve({ items, always: true }, world, usual);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  return {
    solved,
    findings,
    nodes: [
      { each: solved.each, lines: [{ parts: partsOf(tokens[0]!, solved.item.fields, lexer) }] },
    ],
  };
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
    const tokens = lines.map((own) => own.map(lexer.tokensOf));
    return { many, tokens, varies: variesIn(tokens.flat()) };
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
  for (const [k, [, own]] of solved.item.fields.entries()) {
    const first = cut[k]!.tokens.flat()[0]!;
    if ('fields' in own) inner.push({ parts: partsOf(first, own.fields, lexer) });
    else if ('each' in own && 'fields' in own.item)
      inner.push({ each: own.each, lines: [{ parts: partsOf(first, own.item.fields, lexer) }] });
    else return null;
  }
  return { solved, findings, nodes: [{ each: solved.each, lines: inner }] };
}

function partsOf(
  tokens: readonly string[],
  fields: readonly SolvedField[],
  { listOf }: Lexer,
): InlineNode[] {
  const byPlace = new Map(fields.map(([name, s]) => [Number(name.slice(6)) - 1, s]));
  const parts: InlineNode[] = [];
  const add = (text: string) => {
    const last = parts.at(-1);
    if (typeof last === 'string') parts[parts.length - 1] = last + text;
    else if (text !== '') parts.push(text);
  };
  tokens.forEach((t, i) => {
    const solved = byPlace.get(i);
    const list = listOf(t);
    if (solved && list && 'each' in solved && isLeaf(solved.item))
      return void parts.push({
        each: solved.each,
        between: list.between,
        parts: [{ value: solved.item.value }],
      });
    if (!solved || !isLeaf(solved)) return add(t);
    if (solved.value.is === 'constant') add(String(solved.value.value));
    else parts.push({ value: solved.value });
    if (t.endsWith('%')) add('%');
  });
  return parts;
}
