import type { World } from '../own/world';
import { describeInBlocks } from './binary-blocks';
import { fieldsOf, holdsKeys, meant, type Field, type Order } from './binary-fields';
import { inFile } from './binary-once';
import { runs } from './binary-runs';
import { candidatesOf, type Candidate, type Context } from './candidates';
import type { Found } from './found';

/** Records of one size behind a head: each field explained by the rows of the score. */
export function describeBinary(bytes: Uint8Array, world: World): Found[] {
  const root: Context = { row: null, beside: { world, inside: null, before: null, index: 0 } };
  const out: Found[] = [];
  const counted = new Map<number, Candidate[]>();
  for (const kind of ['notes', 'events', 'strikes'] as const) {
    const n =
      kind === 'notes'
        ? world.notes.count
        : kind === 'events'
          ? world.notes.count * 2
          : new Set(world.notes.start.subarray(0, world.notes.count)).size;
    if (!counted.has(n)) counted.set(n, candidatesOf([root], [n]));
  }
  for (const [n, candidates] of counted) {
    if (n < 2) continue;
    for (const tail of [0, 1, 2, 4, 3, 8])
      for (let size = 1; size <= 40; size++) {
        const head = bytes.length - tail - n * size;
        if (head < 0 || head > 256) continue;
        for (const order of ['little', 'big'] as const) {
          const found = records(bytes, head, size, tail, order, candidates, world);
          if (found) out.push(found);
        }
      }
    if (out.some(isWhole)) continue;
    for (const order of ['little', 'big'] as const) {
      const found = runs(bytes, n, order, candidates, world);
      if (found) out.push(found);
    }
  }
  out.push(...describeInBlocks(bytes, world));
  return out.sort((a, b) => worth(b) - worth(a)).slice(0, 6);
}
/** Several fields of every record are explained, and none is open. */
const isWhole = ({ findings }: Found): boolean =>
  findings.filter((f) => f.rows > 1 && f.is === 'explained').length >= 3 &&
  findings.every((f) => f.is !== 'unexplained');

const worth = (f: Found) =>
  f.findings.reduce(
    (sum, o) =>
      sum + (o.is === 'explained' ? 2 + (o.rows > 1 ? 4 : 0) : o.is === 'constant' ? 0 : -20),
    0,
  );

function records(
  bytes: Uint8Array,
  head: number,
  size: number,
  tail: number,
  order: Order,
  candidates: readonly Candidate[],
  world: World,
): Found | null {
  const n = candidates[0]?.list.length ?? 0;
  const starts = Array.from({ length: n }, (_, i) => head + i * size);
  let best: { candidate: Candidate; fields: Field[] } | null = null;
  for (const candidate of candidates) {
    if (!holdsKeys(bytes, starts, size, candidate)) continue;
    const fields = fieldsOf(bytes, starts, size, order, candidate);
    if (!fields) continue;
    if (!best || meant(fields) > meant(best.fields)) best = { candidate, fields };
  }
  // Chance explains one byte or two; a time and a key are no chance.
  if (!best || meant(best.fields) < 2) return null;
  const { candidate, fields } = best;
  return inFile(bytes, head, tail, order, candidate, fields, world, candidate.list.length * size);
}
