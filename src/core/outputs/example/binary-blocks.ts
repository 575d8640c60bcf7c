import type { BinaryNode, Rows } from '../../formats/own/schema';
import { rowsOf } from '../own/rows';
import type { World } from '../own/world';
import { fieldsOf, holdsKeys, meant, whole, type Field, type Order } from './binary-fields';
import { once } from './binary-once';
import { candidatesOf, type Candidate, type Context } from './candidates';
import type { Found } from './found';
import type { Finding } from './solve';

const PARENTS: readonly Rows[] = [
  { of: 'seats' },
  { of: 'seats', empty: true },
  { of: 'parts' },
  { of: 'channels' },
  { of: 'bars', empty: true },
];
/** Longer records, and more before the count of a block, are not looked for. */
const MOST_RECORD = 24;
const MOST_LEAD = 16;
const MOST_HEAD = 64;
const TAILS = [0, 1, 2, 4];

/**
 * A block for each seat, part, channel or bar: what leads it in, how many records it holds, and they.
 * Where each count stands follows from the score; a layout in which all are met is no chance.
 */
export function describeInBlocks(bytes: Uint8Array, world: World): Found[] {
  const root: Context = { row: null, beside: { world, inside: null, before: null, index: 0 } };
  const out: Found[] = [];
  for (const rows of PARENTS) {
    const parents = candidatesOf([root], [rowsOf(rows, world, null).length], rows)[0];
    if (!parents || parents.list.length < 2) continue;
    for (const of of ['notes', 'strikes'] as const) {
      const counts = parents.list.map((row) => rowsOf({ of }, world, row).length);
      for (const layout of layoutsOf(bytes, counts)) {
        const found = inLayout(bytes, layout, parents, counts, of, world);
        if (found) return [found];
      }
    }
  }
  return out;
}

interface Layout {
  readonly head: number;
  /** Bytes before the count, its own, and those of a record. */
  readonly lead: number;
  readonly width: 1 | 2 | 4;
  readonly order: Order;
  readonly size: number;
  readonly tail: number;
}

function* layoutsOf(bytes: Uint8Array, counts: readonly number[]): Iterable<Layout> {
  const all = counts.reduce((a, b) => a + b, 0);
  const [first] = counts;
  for (const tail of TAILS)
    for (let size = 1; size <= MOST_RECORD && size * all <= bytes.length; size++)
      for (const width of [4, 2, 1] as const)
        for (let lead = 0; lead <= MOST_LEAD; lead++) {
          const head = bytes.length - tail - size * all - counts.length * (lead + width);
          if (head < 0 || head > MOST_HEAD) continue;
          for (const order of ['little', 'big'] as const) {
            if (width === 1 && order === 'big') continue;
            if (whole(bytes, head + lead, width, order) !== first) continue;
            const layout: Layout = { head, lead, width, order, size, tail };
            const starts = startsOf(layout, counts);
            if (starts.every((at, i) => whole(bytes, at + lead, width, order) === counts[i]))
              yield layout;
          }
        }
}

/** Where each block begins. */
function startsOf({ head, lead, width, size }: Layout, counts: readonly number[]): number[] {
  let at = head;
  return counts.map((n) => {
    const from = at;
    at += lead + width + n * size;
    return from;
  });
}

function inLayout(
  bytes: Uint8Array,
  layout: Layout,
  parents: Candidate,
  counts: readonly number[],
  of: 'notes' | 'strikes',
  world: World,
): Found | null {
  const { lead, width, size, order, head, tail } = layout;
  const starts = startsOf(layout, counts);
  const places = starts.flatMap((from, b) =>
    Array.from({ length: counts[b]! }, (_, i) => from + lead + width + i * size),
  );
  let best: { candidate: Candidate; fields: Field[]; order: Order } | null = null;
  for (const candidate of candidatesOf(parents.at, counts, of)) {
    if (!holdsKeys(bytes, places, size, candidate)) continue;
    for (const own of width === 1 ? (['little', 'big'] as const) : [order]) {
      const fields = fieldsOf(bytes, places, size, own, candidate);
      if (fields && (!best || meant(fields) > meant(best.fields)))
        best = { candidate, fields, order: own };
    }
  }
  if (!best || meant(best.fields) < 2) return null;
  const { candidate, fields } = best;
  const led = lead === 0 ? [] : fieldsOf(bytes, starts, lead, best.order, parents);
  if (!led) return null;
  const count: BinaryNode = { int: width, value: { is: 'count', of: candidate.rows } };
  const findings: Finding[] = [
    ...led.map((f) => ({ ...f.finding, where: f.finding.where.replace('record', 'block') })),
    {
      where: `byte ${lead} of each block`,
      says: `how many ${of}`,
      rows: counts.length,
      is: 'explained',
    },
    ...fields.map((f) => f.finding),
  ];
  const body = { from: head, to: bytes.length - tail };
  const first = once(bytes, 0, head, best.order, parents, world, body, findings);
  const last =
    tail === 0
      ? []
      : once(bytes, body.to, bytes.length, best.order, parents, world, body, findings);
  const block: BinaryNode = {
    each: parents.rows,
    id: 'rows',
    fields: [
      ...led.map((f) => f.node),
      count,
      { each: candidate.rows, fields: fields.map((f) => f.node) },
    ],
  };
  return {
    container: { kind: 'binary', order: best.order, fields: [...first, block, ...last] },
    findings,
  };
}
