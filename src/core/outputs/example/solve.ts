import type { Rows, Value } from '../../formats/own/schema';
import type { World } from '../own/world';
import { candidatesOf, type Candidate, type Context } from './candidates';
import { explain, explainOnce } from './columns';

/** An example as a tree: what stands once, what has fixed places, and lists. */
export type Shape =
  | { readonly leaf: string; readonly plain: boolean; readonly decimal?: string }
  | { readonly fields: readonly (readonly [name: string, shape: Shape])[] }
  | {
      readonly items: readonly Shape[];
      readonly names?: readonly string[];
      readonly always?: boolean;
    };

/** The tree with what explains each place of it. */
export type Solved =
  | { readonly value: Value; readonly sure: boolean }
  | { readonly fields: readonly (readonly [name: string, solved: Solved])[] }
  | { readonly list: readonly Solved[] }
  | { readonly each: Rows; readonly key?: Value; readonly item: Solved };

/** What was found of one place, in words. */
export interface Finding {
  readonly where: string;
  readonly says: string;
  /** Rows that agree; all of them, or it is not explained. */
  readonly rows: number;
  readonly is: 'explained' | 'constant' | 'unexplained';
}

interface Tried {
  readonly solved: Solved;
  readonly findings: readonly Finding[];
}

/** Rows beyond which a list is not tried in every way. */
const MOST_ROWS = 20_000;

/** How much is explained, and what is not: fewer open places first, then more that is meant. */
const worth = (t: Tried): number =>
  t.findings.reduce(
    (sum, f) =>
      sum + (f.is === 'explained' ? 10 + Math.min(f.rows, 3) : f.is === 'constant' ? 0 : -100),
    0,
  );

export const solve = (root: Shape, world: World): Tried =>
  solveAll(
    [root],
    [{ row: null, beside: { world, inside: null, before: null, index: 0 } }],
    null,
    '',
  );

/** The same place of several rows at once: what explains it has to hold for all. */
function solveAll(
  nodes: readonly Shape[],
  at: readonly Context[],
  candidate: Candidate | null,
  where: string,
): Tried {
  const [first] = nodes;
  if (!first) return { solved: { list: [] }, findings: [] };
  if ('leaf' in first)
    return leaf(nodes as Extract<Shape, { leaf: string }>[], at, candidate, where);
  if ('fields' in first) {
    const alike = nodes.every(
      (n) =>
        'fields' in n &&
        n.fields.length === first.fields.length &&
        n.fields.every(([k], i) => k === first.fields[i]![0]),
    );
    if (!alike) return open(where, 'Its places are not alike in every row.', nodes.length);
    const parts = first.fields.map(([name], i) => {
      const inner = nodes.map((n) => (n as Extract<Shape, { fields: unknown }>).fields[i]![1]);
      return [name, solveAll(inner, at, candidate, where ? `${where}, ${name}` : name)] as const;
    });
    return {
      solved: { fields: parts.map(([name, p]) => [name, p.solved]) },
      findings: parts.flatMap(([, p]) => p.findings),
    };
  }
  return list(nodes as Extract<Shape, { items: unknown }>[], at, candidate, where);
}

const open = (where: string, says: string, rows: number): Tried => ({
  solved: { value: { is: 'constant', value: '' }, sure: false },
  findings: [{ where: where || 'the file', says, rows, is: 'unexplained' }],
});

function leaf(
  nodes: readonly Extract<Shape, { leaf: string }>[],
  at: readonly Context[],
  candidate: Candidate | null,
  where: string,
): Tried {
  const cells = nodes.map((n) => n.leaf);
  const [first] = nodes;
  const { plain, decimal = '.' } = first!;
  if (candidate === null) {
    const found = explainOnce(cells[0]!, plain, at[0]!.beside.world);
    return {
      solved: { value: found.value, sure: found.sure },
      findings: [
        {
          where: where || 'the file',
          says: found.says,
          rows: 1,
          is: found.sure ? 'explained' : 'constant',
        },
      ],
    };
  }
  const mixed = nodes.some((n) => n.plain !== plain);
  const found = mixed ? [] : explain({ cells, plain, decimal }, candidate);
  const [best] = found;
  if (!best)
    return open(where, `Nothing explains it: ${cells.slice(0, 3).join(', ')} …`, cells.length);
  const isConstant = best.value.is === 'constant';
  return {
    solved: { value: best.value, sure: !isConstant },
    findings: [
      { where, says: best.says, rows: cells.length, is: isConstant ? 'constant' : 'explained' },
    ],
  };
}

function list(
  nodes: readonly Extract<Shape, { items: unknown }>[],
  at: readonly Context[],
  candidate: Candidate | null,
  where: string,
): Tried {
  const counts = nodes.map((n) => n.items.length);
  const all = nodes.flatMap((n) => n.items);
  const tries: Tried[] = [];
  const named = nodes.every((n) => n.names !== undefined);
  if (all.length > 0 && all.length <= MOST_ROWS * 20)
    for (const c of candidatesOf(at, counts)) {
      const inner = solveAll(all, c.at, c, where ? `${where}, ${c.rows.of}` : c.rows.of);
      let key: Value | undefined;
      if (named) {
        const cells = nodes.flatMap((n) => n.names!);
        const found = explain({ cells, plain: false, decimal: '.' }, c).find(
          (e) => e.value.is !== 'constant',
        );
        if (!found) continue;
        key = found.value;
      }
      tries.push({
        solved: { each: c.rows, ...(key ? { key } : {}), item: inner.solved },
        findings: inner.findings,
      });
      if (all.length > MOST_ROWS && inner.findings.every((f) => f.is !== 'unexplained')) break;
    }
  tries.sort((a, b) => worth(b) - worth(a));
  const [best] = tries;
  const isGood = (t: Tried | undefined) =>
    t !== undefined &&
    t.findings.some((f) => f.is === 'explained') &&
    t.findings.every((f) => f.is !== 'unexplained');
  const [one] = nodes;
  const fixed = counts.every((n) => n === counts[0]) && !one!.always;
  if (isGood(best) || !fixed || (best && counts[0]! > 12))
    return (
      best ??
      open(where, `A list of ${all.length} that no rows of the score are as many as.`, all.length)
    );
  const parts = one!.items.map((_, i) =>
    solveAll(
      nodes.map((n) => n.items[i]!),
      at,
      candidate,
      where ? `${where}, ${one!.names?.[i] ?? i + 1}` : (one!.names?.[i] ?? String(i + 1)),
    ),
  );
  const asPlaces: Tried = {
    solved: named
      ? { fields: parts.map((p, i) => [one!.names![i]!, p.solved]) }
      : { list: parts.map((p) => p.solved) },
    findings: parts.flatMap((p) => p.findings),
  };
  return best && worth(best) > worth(asPlaces) ? best : asPlaces;
}

export const isLeaf = (s: Solved): s is Extract<Solved, { value: Value }> => 'value' in s;
