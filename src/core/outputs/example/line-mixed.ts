import type { LineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import type { Found } from './found';
import { lexerOf, type Lexer } from './line-parts';
import { MOST_ONCE, plainly, tellOnce, type Told } from './line-once';
import { fieldsOf, partsOf, variesIn } from './line-rows';
import { type Shape, solve, timesIn } from './solve';

/** More kinds of lines are no rows of one list. */
const MOST_KINDS = 4;

/** Rows of several kinds, as they come: a line is of this kind or of that by what its row is of. */
export function mixedLines(lines: readonly string[], world: World): Found | null {
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
    const isHead = from + lines.length - to <= MOST_ONCE;
    const once = (l: string) => (isHead ? tellOnce(l, world, lexer, usual) : plainly(l, world));
    const before = lines.slice(0, from).map(once);
    const behind = lines.slice(to).map(once);
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
