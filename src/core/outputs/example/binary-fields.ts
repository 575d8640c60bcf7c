import type { BinaryNode, Value } from '../../formats/own/schema';
import type { Candidate } from './candidates';
import { explain } from './columns';
import type { Finding } from './solve';

export type Order = 'little' | 'big';

export const whole = (bytes: Uint8Array, at: number, size: number, order: Order): number => {
  let n = 0;
  for (let i = 0; i < size; i++) n = n * 256 + bytes[at + (order === 'big' ? i : size - 1 - i)]!;
  return n;
};
export const hex = (bytes: Uint8Array) =>
  Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join(' ');

export interface Field {
  readonly node: BinaryNode;
  readonly size: number;
  readonly finding: Finding;
}

/** Whether some byte of each record goes with the key of its note: else these are no records of it. */
export function holdsKeys(
  bytes: Uint8Array,
  starts: readonly number[],
  size: number,
  { list, at }: Candidate,
): boolean {
  const { notes } = at[0]!.beside.world;
  for (let offset = 0; offset < size; offset++) {
    const byKey = new Map<number, number>();
    let holds = true;
    for (let i = 0; i < list.length && holds; i++) {
      const key = notes.key[list[i]!.note ?? 0]!;
      const byte = bytes[starts[i]! + offset]!;
      const there = byKey.get(key);
      if (there === undefined) byKey.set(key, byte);
      else holds = there === byte;
    }
    if (holds && (byKey.size < 2 || new Set(byKey.values()).size > 1)) return true;
  }
  return false;
}

export const meant = (fields: readonly Field[]) =>
  fields.filter((f) => f.finding.is === 'explained').length;

/** What explains whole numbers best; a constant is one where nothing else is meant by it. */
const meantBy = (cells: readonly string[], candidate: Candidate) => {
  const [best] = explain({ cells, plain: true, decimal: '.' }, candidate);
  return best && best.value.is !== 'constant' ? best : null;
};

/** A record cut into fields, the widest that is explained first; zeros and constants fill the rest. */
export function fieldsOf(
  bytes: Uint8Array,
  starts: readonly number[],
  size: number,
  order: Order,
  candidate: Candidate,
): Field[] | null {
  const n = candidate.list.length;
  const out: Field[] = [];
  for (let at = 0; at < size;) {
    let next: Field | null = null;
    // Two fields side by side have a word for each key as well: that is tried when nothing else is left.
    let byWords: Field | null = null;
    for (const width of [4, 2, 3, 8, 1]) {
      if (at + width > size) continue;
      for (const signed of [false, true]) {
        const cells = Array.from({ length: n }, (_, i) => {
          const v = whole(bytes, starts[i]! + at, width, order);
          return String(signed && v >= 2 ** (width * 8 - 1) ? v - 2 ** (width * 8) : v);
        });
        if (signed && !cells.some((c) => c.startsWith('-'))) continue;
        const found = meantBy(cells, candidate);
        if (!found) continue;
        const field: Field = {
          size: width,
          node: { int: width, ...(signed ? { signed } : {}), value: found.value },
          finding: {
            where: `byte ${at} of each record`,
            says: found.says,
            rows: n,
            is: 'explained',
          },
        };
        if ('as' in found.value && found.value.as === 'word' && width > 1) {
          byWords ??= field;
          continue;
        }
        next = field;
        break;
      }
      if (next) break;
    }
    next ??=
      floating(bytes, starts, size, at, order, candidate) ?? fixed(bytes, starts, at) ?? byWords;
    if (!next) return null;
    out.push(next);
    at += next.size;
  }
  return out;
}

function floating(
  bytes: Uint8Array,
  starts: readonly number[],
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
      const place = starts[i]! + at;
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
        { is: 'time', of: 'start', unit: 'seconds', exact: true },
        'start in seconds',
        (i) => world.maps.clock.msAt(candidate.list[i]!.tick) / 1000,
      ],
      [
        { is: 'time', of: 'start', unit: 'ms', exact: true },
        'start in ms',
        (i) => world.maps.clock.msAt(candidate.list[i]!.tick),
      ],
      [
        { is: 'time', of: 'start', unit: 'quarters', exact: true },
        'start in quarters',
        (i) => candidate.list[i]!.tick / world.ppq,
      ],
      [
        { is: 'time', of: 'length', unit: 'seconds', exact: true },
        'length in seconds',
        (i) =>
          (world.maps.clock.msAt(candidate.list[i]!.endTick) -
            world.maps.clock.msAt(candidate.list[i]!.tick)) /
          1000,
      ],
      [
        { is: 'time', of: 'length', unit: 'quarters', exact: true },
        'length in quarters',
        (i) => (candidate.list[i]!.endTick - candidate.list[i]!.tick) / world.ppq,
      ],
      [
        { is: 'velocity', most: 1, exact: true },
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

function fixed(bytes: Uint8Array, starts: readonly number[], at: number): Field | null {
  const byte = bytes[starts[0]! + at]!;
  if (starts.some((from) => bytes[from + at] !== byte)) return null;
  return {
    size: 1,
    node: { bytes: hex(Uint8Array.of(byte)) },
    finding: {
      where: `byte ${at} of each record`,
      says: `always ${byte}`,
      rows: starts.length,
      is: 'constant',
    },
  };
}
