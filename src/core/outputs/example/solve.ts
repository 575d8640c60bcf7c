import type { Rows, Value, When } from '../../formats/own/schema';
import type { World } from '../own/world';
import { candidatesOf, type Candidate, type Context, type Explained } from './candidates';
import { splitsOf } from './column-cases';
import { explain } from './columns';
import { explainOnce } from './explain-once';

/** An example as a tree: what stands once, what has fixed places, and lists. */
export type Shape =
  | { readonly leaf: string; readonly plain: boolean; readonly decimal?: string }
  | { readonly fields: readonly (readonly [name: string, shape: Shape])[] }
  | {
      readonly items: readonly Shape[];
      readonly names?: readonly string[];
      readonly always?: boolean;
      /** Where there is one in each row it is a place, not a list of one. */
      readonly single?: boolean;
      /** The rows that they are, where that is known. */
      readonly rows?: Rows;
    };

/** The tree with what explains each place of it. */
export type Solved =
  | { readonly value: Value; readonly sure: boolean; readonly says?: string }
  | { readonly fields: readonly SolvedField[] }
  | { readonly list: readonly Solved[] }
  | { readonly each: Rows; readonly key?: Value; readonly item: Solved };

/** A place with a name; where it is said when, only for some rows. */
export type SolvedField = readonly [name: string, solved: Solved, when?: When];

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

type Usual = readonly Explained[] | undefined;

/**
 * What explains a tree. What is told of time in most of its rows is then looked for in the few of
 * others as well: a zero alone says no unit.
 */
export function solve(root: Shape, world: World, usual?: Usual): Tried {
  const at = [{ row: null, beside: { world, inside: null, before: null, index: 0 } }];
  const first = solveAll([root], at, null, '', usual);
  if (usual || !first.findings.some((f) => f.is === 'constant')) return first;
  const times = timesIn(first.solved);
  return times.length === 0 ? first : solveAll([root], at, null, '', times);
}

/** How rows tell where they begin, each way once. */
export function timesIn(solved: Solved): Explained[] {
  const out = new Map<string, Explained>();
  const walk = (s: Solved) => {
    if ('value' in s) {
      const { value: v, says } = s;
      if (v.is === 'time' && v.of === 'start' && !v.from && s.sure)
        out.set(JSON.stringify(v), { value: v, says: says ?? '' });
    } else if ('fields' in s) for (const [, inner] of s.fields) walk(inner);
    else if ('list' in s) s.list.forEach(walk);
    else walk(s.item);
  };
  walk(solved);
  return [...out.values()];
}

/** The same place of several rows at once: what explains it has to hold for all. */
function solveAll(
  nodes: readonly Shape[],
  at: readonly Context[],
  candidate: Candidate | null,
  where: string,
  usual: Usual,
): Tried {
  const [first] = nodes;
  if (!first) return { solved: { list: [] }, findings: [] };
  if ('leaf' in first)
    return leaf(nodes as Extract<Shape, { leaf: string }>[], at, candidate, where);
  if ('fields' in first) {
    return fields(nodes as Extract<Shape, { fields: unknown }>[], at, candidate, where, usual);
  }
  return list(nodes as Extract<Shape, { items: unknown }>[], at, candidate, where, usual);
}

/** Places with names; one that stands in some rows alone has to be told by what those are of. */
function fields(
  nodes: readonly Extract<Shape, { fields: unknown }>[],
  at: readonly Context[],
  candidate: Candidate | null,
  where: string,
  usual: Usual,
): Tried {
  const { world } = at[0]!.beside;
  const names = namesIn(nodes);
  if (!names) return open(where, 'Its places are not alike in every row.', nodes.length);
  const parts: { field: SolvedField; findings: readonly Finding[] }[] = [];
  for (const name of names) {
    const here = where ? `${where}, ${name}` : name;
    const inner = nodes.map((n) => n.fields.find(([k]) => k === name)?.[1]);
    const there = inner.flatMap((shape, i) => (shape ? [i] : []));
    if (there.length === nodes.length) {
      const { solved, findings } = solveAll(inner as Shape[], at, candidate, here, usual);
      parts.push({ field: [name, solved], findings });
      continue;
    }
    const split = candidate && splitsOf(inner.map(Boolean), candidate)[0];
    if (!split) return open(here, 'Nothing tells in which rows it stands.', there.length);
    const own: Candidate = {
      ...candidate,
      list: there.map((i) => candidate.list[i]!),
      at: there.map((i) => candidate.at[i]!),
    };
    const shapes = there.map((i) => inner[i]!);
    const { solved, findings } = solveAll(shapes, own.at, own, here, usual);
    const says = `stands ${split.says}`;
    parts.push({
      field: [name, solved, split.when],
      findings: [...findings, { where: here, says, rows: there.length, is: 'explained' }],
    });
  }
  const all = { fields: parts.map((p) => p.field) };
  return {
    solved: candidate ? all : withUnit(all, world),
    findings: parts.flatMap((p) => p.findings),
  };
}

/** Beats of a bar and then the same number again: that is their unit, where the meter has it too. */
function withUnit({ fields: own }: { fields: SolvedField[] }, { facts }: World) {
  if (facts.get('numerator') !== facts.get('denominator')) return { fields: own };
  let isMet = false;
  return {
    fields: own.map((field): SolvedField => {
      const [name, s] = field;
      if (!isLeaf(s) || s.value.is !== 'fact' || s.value.key !== 'numerator') return field;
      if (!isMet) {
        isMet = true;
        return field;
      }
      return [name, { ...s, value: { ...s.value, key: 'denominator' } }];
    }),
  };
}

/** More places of some rows alone are no row. */
const MOST_NAMES = 100;

/** All names in one order that holds for every row; null where there is none. */
function namesIn(nodes: readonly Extract<Shape, { fields: unknown }>[]): string[] | null {
  const out: string[] = [];
  const known = new Set<string>();
  for (const node of nodes) {
    if (!('fields' in node)) return null;
    // What has nothing in common with the rows before stands behind them.
    let at = node.fields.some(([name]) => known.has(name)) ? 0 : out.length;
    for (const [name] of node.fields) {
      if (known.has(name)) {
        const there = out.indexOf(name);
        if (there < at) return null;
        at = there + 1;
        continue;
      }
      known.add(name);
      out.splice(at++, 0, name);
      if (out.length > MOST_NAMES) return null;
    }
  }
  return out;
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
    solved: { value: best.value, sure: !isConstant, says: best.says },
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
  usual: Usual,
): Tried {
  const counts = nodes.map((n) => n.items.length);
  const all = nodes.flatMap((n) => n.items);
  if (candidate && nodes.every((n) => n.single && n.items.length === 1)) {
    const inner = where ? `${where}, 1` : '1';
    const own = solveAll(all, at, candidate, inner, usual);
    if (own.findings.every((f) => f.is !== 'unexplained'))
      return { ...own, solved: { list: [own.solved] } };
  }
  const tries: Tried[] = [];
  const named = nodes.every((n) => n.names !== undefined);
  if (all.length > 0 && all.length <= MOST_ROWS * 20)
    for (const c of candidatesOf(at, counts, nodes[0]!.rows, usual)) {
      const inner = solveAll(all, c.at, c, where ? `${where}, ${c.rows.of}` : c.rows.of, usual);
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
  const nameAt = (i: number) => one!.names?.[i] ?? String(i + 1);
  const place = (i: number, rows?: Rows) => {
    const own = nodes.map((n) => n.items[i]!);
    const inner = rows ? own.map((n) => ('items' in n ? { ...n, rows } : n)) : own;
    const here = where ? `${where}, ${nameAt(i)}` : nameAt(i);
    return solveAll(inner, at, candidate, here, usual);
  };
  const parts = one!.items.map((_, i) => place(i));
  // A seat that plays one key alone has a list of that key where the others are lists of keys.
  const isOf = (by: 'keys' | 'seats') => (t: Tried) => 'each' in t.solved && !!t.solved.each[by];
  if (parts.some(isOf('keys')))
    parts.forEach((t, i) => {
      const [node] = nodes;
      const list = node!.items[i]!;
      if (!isOf('seats')(t) || !('items' in list)) return;
      for (const key of new Set(at[0]!.beside.world.notes.key)) {
        const own = place(i, { of: 'notes', keys: [key] });
        if (isOf('keys')(own) && isGood(own)) return void (parts[i] = own);
      }
    });
  const asPlaces: Tried = {
    solved: named
      ? { fields: parts.map((p, i) => [one!.names![i]!, p.solved]) }
      : { list: parts.map((p) => p.solved) },
    findings: parts.flatMap((p) => p.findings),
  };
  return best && worth(best) > worth(asPlaces) ? best : asPlaces;
}

export const isLeaf = (s: Solved): s is Extract<Solved, { value: Value }> => 'value' in s;
