import { checksumOf } from '../../formats/own/checksums';
import type { BinaryNode, Container, Value } from '../../formats/own/schema';
import type { World } from '../own/world';
import { candidatesOf, type Candidate, type Context } from './candidates';
import { explain, explainOnce } from './columns';
import type { Finding } from './solve';

interface Found {
  readonly container: Container;
  readonly findings: readonly Finding[];
}
type Order = 'little' | 'big';

const whole = (bytes: Uint8Array, at: number, size: number, order: Order): number => {
  let n = 0;
  for (let i = 0; i < size; i++) n = n * 256 + bytes[at + (order === 'big' ? i : size - 1 - i)]!;
  return n;
};
const hex = (bytes: Uint8Array) =>
  Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join(' ');

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
    for (const order of ['little', 'big'] as const) {
      const found = runs(bytes, n, order, candidates, world);
      if (found) out.push(found);
    }
  }
  return out.sort((a, b) => worth(b) - worth(a)).slice(0, 6);
}
const worth = (f: Found) =>
  f.findings.reduce(
    (sum, o) =>
      sum + (o.is === 'explained' ? 2 + (o.rows > 1 ? 4 : 0) : o.is === 'constant' ? 0 : -20),
    0,
  );

interface Field {
  readonly node: BinaryNode;
  readonly size: number;
  readonly finding: Finding;
}

function records(
  bytes: Uint8Array,
  head: number,
  size: number,
  tail: number,
  order: Order,
  candidates: readonly Candidate[],
  world: World,
): Found | null {
  let best: { candidate: Candidate; fields: Field[] } | null = null;
  for (const candidate of candidates) {
    if (!holdsKeys(bytes, head, size, candidate)) continue;
    const fields = fieldsOf(bytes, head, size, order, candidate);
    if (!fields) continue;
    if (!best || meant(fields) > meant(best.fields)) best = { candidate, fields };
  }
  // Chance explains one byte or two; a time and a key are no chance.
  if (!best || meant(best.fields) < 2) return null;
  const { candidate, fields } = best;
  return inFile(bytes, head, tail, order, candidate, fields, world, candidate.list.length * size);
}
/** Whether some byte of each record goes with the key of its note: else these are no records of it. */
function holdsKeys(
  bytes: Uint8Array,
  head: number,
  size: number,
  { list, at }: Candidate,
): boolean {
  const { notes } = at[0]!.beside.world;
  for (let offset = 0; offset < size; offset++) {
    const byKey = new Map<number, number>();
    let holds = true;
    for (let i = 0; i < list.length && holds; i++) {
      const key = notes.key[list[i]!.note ?? 0]!;
      const byte = bytes[head + i * size + offset]!;
      const there = byKey.get(key);
      if (there === undefined) byKey.set(key, byte);
      else holds = there === byte;
    }
    if (holds && (byKey.size < 2 || new Set(byKey.values()).size > 1)) return true;
  }
  return false;
}

const meant = (fields: readonly Field[]) =>
  fields.filter((f) => f.finding.is === 'explained').length;

/** A record cut into fields, the widest that is explained first; zeros and constants fill the rest. */
function fieldsOf(
  bytes: Uint8Array,
  head: number,
  size: number,
  order: Order,
  candidate: Candidate,
): Field[] | null {
  const n = candidate.list.length;
  const out: Field[] = [];
  for (let at = 0; at < size;) {
    let next: Field | null = null;
    for (const width of [4, 2, 3, 8, 1]) {
      if (at + width > size) continue;
      for (const signed of [false, true]) {
        const cells = Array.from({ length: n }, (_, i) => {
          const v = whole(bytes, head + i * size + at, width, order);
          return String(signed && v >= 2 ** (width * 8 - 1) ? v - 2 ** (width * 8) : v);
        });
        if (signed && !cells.some((c) => c.startsWith('-'))) continue;
        const found = explain({ cells, plain: true, decimal: '.' }, candidate).find(
          (e) => e.value.is !== 'constant',
        );
        // A number of four bytes that is always small is met by its first byte as well.
        if (!found) continue;
        next = {
          size: width,
          node: { int: width, ...(signed ? { signed } : {}), value: found.value },
          finding: {
            where: `byte ${at} of each record`,
            says: found.says,
            rows: n,
            is: 'explained',
          },
        };
        break;
      }
      if (next) break;
    }
    next ??= floating(bytes, head, size, at, order, candidate) ?? fixed(bytes, head, size, at, n);
    if (!next) return null;
    out.push(next);
    at += next.size;
  }
  return out;
}

function floating(
  bytes: Uint8Array,
  head: number,
  size: number,
  at: number,
  order: Order,
  candidate: Candidate,
): Field | null {
  for (const width of [4, 8] as const) {
    if (at + width > size) continue;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    const n = candidate.list.length;
    const values = Array.from({ length: n }, (_, i) => {
      const place = head + i * size + at;
      return width === 4
        ? view.getFloat32(place, order === 'little')
        : view.getFloat64(place, order === 'little');
    });
    if (
      values.some(
        (v) => !Number.isFinite(v) || Math.abs(v) > 1e9 || (v !== 0 && Math.abs(v) < 1e-7),
      )
    )
      continue;
    const { world } = candidate.at[0]!.beside;
    const near = width === 4 ? 1e-5 : 1e-9;
    const tries: [Value, string, (i: number) => number][] = [
      [
        { is: 'time', of: 'start', unit: 'seconds', decimals: 9 },
        'start in seconds',
        (i) => world.maps.clock.msAt(candidate.list[i]!.tick) / 1000,
      ],
      [
        { is: 'time', of: 'start', unit: 'ms', decimals: 6 },
        'start in ms',
        (i) => world.maps.clock.msAt(candidate.list[i]!.tick),
      ],
      [
        { is: 'time', of: 'start', unit: 'quarters', decimals: 9 },
        'start in quarters',
        (i) => candidate.list[i]!.tick / world.ppq,
      ],
      [
        { is: 'time', of: 'length', unit: 'seconds', decimals: 9 },
        'length in seconds',
        (i) =>
          (world.maps.clock.msAt(candidate.list[i]!.endTick) -
            world.maps.clock.msAt(candidate.list[i]!.tick)) /
          1000,
      ],
      [
        { is: 'time', of: 'length', unit: 'quarters', decimals: 9 },
        'length in quarters',
        (i) => (candidate.list[i]!.endTick - candidate.list[i]!.tick) / world.ppq,
      ],
      [
        { is: 'velocity', most: 1, decimals: 9 },
        'velocity from 0 to 1',
        (i) => world.notes.velocity[candidate.list[i]!.note!]! / 127,
      ],
    ];
    for (const [value, says, of] of tries) {
      if (value.is === 'velocity' && candidate.list[0]!.note === undefined) continue;
      if (values.every((v, i) => Math.abs(v - of(i)) <= near * Math.max(1, Math.abs(v))))
        return {
          size: width,
          node: { float: width, value },
          finding: { where: `byte ${at} of each record`, says, rows: n, is: 'explained' },
        };
    }
  }
  return null;
}

function fixed(bytes: Uint8Array, head: number, size: number, at: number, n: number): Field | null {
  const byte = bytes[head + at]!;
  for (let i = 1; i < n; i++) if (bytes[head + i * size + at] !== byte) return null;
  return {
    size: 1,
    node: { bytes: hex(Uint8Array.of(byte)) },
    finding: {
      where: `byte ${at} of each record`,
      says: `always ${byte}`,
      rows: n,
      is: 'constant',
    },
  };
}

/** Head, rows and tail together; sums and counts are looked for in what stands once. */
function inFile(
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

function once(
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

/** Rows of unequal size: a length in seven bits a byte, then bytes of their own. */
function runs(
  bytes: Uint8Array,
  n: number,
  order: Order,
  candidates: readonly Candidate[],
  world: World,
): Found | null {
  for (let head = 0; head <= Math.min(64, bytes.length - n * 2); head++)
    for (let rest = 1; rest <= 4; rest++)
      for (const tail of [0, 1, 2, 4]) {
        const rows: { vlq: number; own: number[] }[] = [];
        let at = head;
        const end = bytes.length - tail;
        for (let i = 0; i < n && at < end; i++) {
          let v = 0;
          let k = 0;
          for (; k < 4 && at < end; k++) {
            const b = bytes[at++]!;
            v = v * 128 + (b & 127);
            if (b < 128) break;
          }
          if (k === 4 || at + rest > end) break;
          rows.push({ vlq: v, own: Array.from(bytes.subarray(at, at + rest)) });
          at += rest;
        }
        if (rows.length !== n || at !== end) continue;
        for (const candidate of candidates) {
          const column = (cells: string[]) =>
            explain({ cells, plain: true, decimal: '.' }, candidate)[0];
          const time = column(rows.map((r) => String(r.vlq)));
          if (!time || time.value.is !== 'time') continue;
          const fields: Field[] = [
            {
              size: 1,
              node: { vlq: true, value: time.value },
              finding: { where: 'each row', says: time.says, rows: n, is: 'explained' },
            },
          ];
          for (let i = 0; i < rest; i++) {
            const found = column(rows.map((r) => String(r.own[i])));
            if (!found) break;
            const isConstant = found.value.is === 'constant';
            fields.push({
              size: 1,
              node: isConstant
                ? { bytes: hex(Uint8Array.of(rows[0]!.own[i]!)) }
                : { int: 1, value: found.value },
              finding: {
                where: `byte ${i} behind it`,
                says: found.says,
                rows: n,
                is: isConstant ? 'constant' : 'explained',
              },
            });
          }
          if (fields.length === rest + 1 && meant(fields) >= 2)
            return inFile(bytes, head, tail, order, candidate, fields, world, end - head);
        }
      }
  return null;
}
