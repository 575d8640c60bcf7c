import { checksumOf } from '../../formats/own/checksums';
import type { BinaryNode, Value } from '../../formats/own/schema';
import type { World } from '../own/world';
import { hex, whole, type Field, type Order } from './binary-fields';
import type { Candidate } from './candidates';
import { explainOnce } from './explain-once';
import type { Found } from './found';
import type { Finding } from './solve';

/** Head, rows and tail together; sums and counts are looked for in what stands once. */
export function inFile(
  bytes: Uint8Array,
  head: number,
  tail: number,
  order: Order,
  candidate: Candidate,
  fields: readonly Field[],
  world: World,
  bodySize: number,
): Found {
  const findings: Finding[] = fields.map((f) => f.finding);
  const body = { from: head, to: head + bodySize };
  const first = once(bytes, 0, head, order, candidate, world, body, findings);
  const last =
    tail === 0 ? [] : once(bytes, body.to, bytes.length, order, candidate, world, body, findings);
  const rows: BinaryNode = { each: candidate.rows, id: 'rows', fields: fields.map((f) => f.node) };
  return { container: { kind: 'binary', order, fields: [...first, rows, ...last] }, findings };
}

/** What stands once before the rows or behind them: counts, sizes, sums, facts, texts; else letters. */
export function once(
  bytes: Uint8Array,
  from: number,
  to: number,
  order: Order,
  candidate: Candidate,
  world: World,
  body: { from: number; to: number },
  findings: Finding[],
): BinaryNode[] {
  const out: BinaryNode[] = [];
  const n = candidate.list.length;
  for (let at = from; at < to;) {
    const take = (size: number, node: BinaryNode, says: string) => {
      out.push(node);
      findings.push({ where: `bytes ${at}–${at + size - 1}`, says, rows: 1, is: 'explained' });
      at += size;
    };
    const text = textAt(bytes, at, to, world);
    if (text) {
      take(text.size, text.node, text.says);
      continue;
    }
    let met = false;
    for (const size of [4, 2, 1]) {
      if (at + size > to) continue;
      const other: Order = order === 'little' ? 'big' : 'little';
      for (const own of [order, other]) {
        const value = whole(bytes, at, size, own);
        const more = own === order ? {} : { order: own };
        if (value === n && (n > 3 || size === 1 || size === 2)) {
          take(
            size,
            { int: size, ...more, value: { is: 'count', of: candidate.rows } },
            `how many ${candidate.rows.of}`,
          );
          met = true;
        } else if (value === body.to - body.from && value > 8) {
          take(
            size,
            { int: size, ...more, value: { is: 'size', block: 'rows' } },
            'bytes of the rows',
          );
          met = true;
        } else if (value === body.from && value > 3 && size > 1) {
          take(
            size,
            { int: size, ...more, value: { is: 'offset', block: 'rows' } },
            'where the rows begin',
          );
          met = true;
        } else if (size > 1 && value > 4) {
          const found = explainOnce(String(value), true, world);
          if (found.sure) {
            take(size, { int: size, ...more, value: found.value }, found.says);
            met = true;
          }
        }
        if (!met && from >= body.to)
          for (const kind of ['crc32', 'crc16', 'sum', 'xor'] as const) {
            const sum = checksumOf(kind, bytes.subarray(body.from, body.to));
            if (sum % 2 ** (size * 8) !== value) continue;
            if (sum >= 2 ** (size * 8)) continue;
            take(
              size,
              { int: size, ...more, value: { is: 'checksum', kind, block: 'rows' } },
              `${kind} of the rows`,
            );
            met = true;
            break;
          }
        if (met) break;
      }
      if (met) break;
    }
    if (met) continue;
    const lastNode = out.at(-1);
    const byte = hex(bytes.subarray(at, at + 1));
    if (lastNode && 'bytes' in lastNode)
      out[out.length - 1] = { bytes: `${lastNode.bytes} ${byte}` };
    else out.push({ bytes: byte });
    findings.push({ where: `byte ${at}`, says: `always ${byte}`, rows: 1, is: 'constant' });
    at++;
  }
  return out;
}

/** The title in one of its forms. */
function textAt(
  bytes: Uint8Array,
  at: number,
  to: number,
  world: World,
): { node: BinaryNode; size: number; says: string } | null {
  for (const key of ['title', 'file']) {
    const text = world.facts.get(key) ?? '';
    if (text.length < 2 || /[^\x20-\x7e]/.test(text)) continue;
    const own = Array.from(text, (c) => c.charCodeAt(0));
    const is = (from: number) => own.every((b, i) => bytes[from + i] === b);
    const value: Value = { is: 'fact', key };
    if (is(at)) {
      let size = own.length;
      const fill = bytes[at + size];
      if (at + size < to && (fill === 0 || fill === 32)) {
        while (at + size < to && bytes[at + size] === fill) size++;
        if (size === own.length + 1 && fill === 0)
          return { node: { string: 'zero', value }, size, says: `the ${key}, ended by zero` };
        return {
          node: { string: 'padded', size, ...(fill === 0 ? {} : { fill }), value },
          size,
          says: `the ${key}, filled up`,
        };
      }
    }
    if (bytes[at] === own.length && is(at + 1))
      return {
        node: { string: 'counted', value },
        size: own.length + 1,
        says: `the ${key}, counted`,
      };
  }
  return null;
}
