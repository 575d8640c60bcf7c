import type { World } from '../own/world';
import { fieldsOf, meant, type Field, type Order } from './binary-fields';
import { inFile } from './binary-once';
import type { Candidate } from './candidates';
import { explain } from './columns';
import type { Found } from './found';

const MOST_HEAD = 64;
const MOST_REST = 8;
const TAILS = [0, 1, 2, 4];

/** Rows of unequal size: a time in seven bits a byte, then bytes of their own. */
export function runs(
  bytes: Uint8Array,
  n: number,
  order: Order,
  candidates: readonly Candidate[],
  world: World,
): Found | null {
  for (let head = 0; head <= Math.min(MOST_HEAD, bytes.length - n * 2); head++)
    for (let rest = 1; rest <= MOST_REST; rest++) {
      const cut = runsFrom(bytes, head, rest, n);
      if (!cut || !TAILS.includes(bytes.length - cut.end)) continue;
      const { places, end } = cut;
      const cells = Array.from(cut.times, String);
      for (const candidate of candidates) {
        const [time] = explain({ cells, plain: true, decimal: '.' }, candidate);
        if (time?.value.is !== 'time') continue;
        const own = fieldsOf(bytes, places, rest, order, candidate);
        if (!own) continue;
        const first: Field = {
          size: 1,
          node: { vlq: true, value: time.value },
          finding: { where: 'each row', says: time.says, rows: n, is: 'explained' },
        };
        const fields = [first, ...own];
        if (meant(fields) < 2) continue;
        const tail = bytes.length - end;
        return inFile(bytes, head, tail, order, candidate, fields, world, end - head);
      }
    }
  return null;
}

/** As many rows as there are notes, one behind the other; null where the bytes end before. */
function runsFrom(
  bytes: Uint8Array,
  head: number,
  rest: number,
  n: number,
): { times: number[]; places: number[]; end: number } | null {
  const times: number[] = [];
  const places: number[] = [];
  let at = head;
  for (let i = 0; i < n; i++) {
    let time = 0;
    let k = 0;
    for (; k < 4 && at < bytes.length; k++) {
      const byte = bytes[at++]!;
      time = time * 128 + (byte & 127);
      if (byte < 128) break;
    }
    if (k === 4 || at + rest > bytes.length) return null;
    times.push(time);
    places.push(at);
    at += rest;
  }
  return { times, places, end: at };
}
