import type { Path } from './interpret-grid';
import type { ReadRow, ReadValue } from './row';
import type { Value } from './schema';

// Of whom a row is: its seat, key, flags, channel and part, by itself or by what stands above it.

/** What of a seat a file can name. */
export interface SeatLike {
  readonly id: string;
  readonly name: string;
  readonly kind: string;
  readonly laneNotes?: readonly number[];
  readonly rung?: number | undefined;
}
export interface Seated {
  readonly seats: readonly SeatLike[];
}

export const find = (path: Path | null, is: (v: Value) => boolean): ReadValue | null => {
  for (let p = path; p; p = p.above) {
    const found = p.row.values.find((v) => is(v.value));
    if (found) return found;
  }
  return null;
};

const PITCH: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

export function keyFrom(
  { value: v, said }: ReadValue,
  lanes: readonly number[] | null,
): number | null {
  if (v.is !== 'key') return null;
  const first = v.first ?? 0;
  switch (v.as) {
    case 'number':
      return Number(said) + (v.from ?? 0);
    case 'name': {
      if (v.names) {
        const own = /^(.*?)(-?\d{1,2})$/u.exec(String(said));
        const pitch = own ? v.names.indexOf(own[1]!) : -1;
        return pitch < 0 ? null : pitch + (Number(own![2]) + 5 - (v.middleC ?? 4)) * 12;
      }
      const parts = /^([A-G])([#♯s♭b]?)(-?\d+)$/u.exec(String(said));
      if (!parts) return null;
      const turned = parts[2] === '' ? 0 : /[b♭]/u.test(parts[2]!) ? -1 : 1;
      return PITCH[parts[1]!]! + turned + (Number(parts[3]) + 5 - (v.middleC ?? 4)) * 12;
    }
    case 'word': {
      const key = Object.entries(v.words ?? {}).find(([, w]) => w === said)?.[0];
      return Number(key ?? said);
    }
    case 'bits':
      return null;
    default: {
      const list = v.keys ?? lanes;
      const n = Number(said) - first;
      return list ? (list[n] ?? null) : n + (v.from ?? 0);
    }
  }
}

export function whoseOf(path: Path, seat: SeatLike | undefined) {
  const channel = find(path, (v) => v.is === 'channel');
  const part = find(path, (v) => (v.is === 'part' || v.is === 'track') && v.as !== 'number');
  return {
    seat: seat?.id ?? null,
    channel: channel
      ? Number(channel.said) + 1 - ((channel.value as { first?: number }).first ?? 1)
      : null,
    part: part ? String(part.said) : null,
  };
}

export function seatFrom(path: Path, { seats }: Seated) {
  const found = find(path, (v) => v.is === 'seat');
  if (found && found.value.is === 'seat') {
    const v = found.value;
    if (v.as === 'number') return seats[Number(found.said) - (v.first ?? 0)];
    const name =
      v.as === 'word'
        ? (Object.entries(v.words ?? {}).find(([, w]) => w === found.said)?.[0] ?? found.said)
        : found.said;
    return seats.find((s) => s.name === name);
  }
  const named = find(path, (v) => v.is === 'rung');
  if (named && named.value.is === 'rung' && named.value.as !== 'word') {
    const rung = Number(named.said) + 1 - (named.value.first ?? 1);
    return seats.find((s) => s.rung === rung);
  }
  // Rows of one seat alone say whose they are without a word.
  const only = filter(path, 'seats');
  if (only?.length === 1) return seats.find((s) => s.id === only[0]);
  return seats.length === 1 ? seats[0] : undefined;
}

/** What the rows of a path are kept to, or told by what stands in them; the nearest of those. */
function filter<K extends 'seats' | 'keys'>(path: Path, by: K) {
  for (let p: Path | null = path; p; p = p.above) {
    const own = p.row.told.find(({ when, is }) => is && when[by])?.when;
    const told = own?.[by] ?? p.row.of?.[by];
    if (told) return told;
  }
  return null;
}

/** The one key that rows are kept to. */
export function onlyKey(path: Path): number | null {
  const keys = filter(path, 'keys');
  return keys?.length === 1 ? keys[0]! : null;
}

export function flagsFrom({ row }: Path): string[] {
  const out: string[] = [];
  for (const { value: v, said } of row.values) {
    if (v.is !== 'flags') continue;
    if (v.flag !== undefined) {
      if (said === v.yes) out.push(v.flag);
    } else if (v.bits) {
      for (const [flag, bit] of Object.entries(v.bits))
        if (Math.floor(Number(said) / 2 ** bit) % 2 === 1) out.push(flag);
    } else if (said !== '')
      for (const word of String(said).split(v.between ?? ' '))
        out.push(Object.entries(v.words ?? {}).find(([, w]) => w === word)?.[0] ?? word);
  }
  for (const { when, is } of row.told)
    if (is && when.flag !== undefined && !out.includes(when.flag)) out.push(when.flag);
  return out;
}

/** Whether an event begins, where what stands in it tells that. */
export function beginsBy({ told }: ReadRow): boolean | null {
  const own = told.find(({ when }) => when.on !== undefined);
  return own ? own.when.on === own.is : null;
}

/** The notes that one row of a strike tells key by key: those that are struck, or have a force. */
export function struckKeys({ row }: Path): { key: number; force: ReadValue | null }[] {
  const forces = new Map<number, ReadValue>();
  const keys = new Set<number>();
  for (const read of row.values) {
    const { value: v, said } = read;
    if (v.is === 'velocity' && v.key !== undefined) {
      forces.set(v.key, read);
      if (Number(said) > (v.least ?? 0)) keys.add(v.key);
    } else if (v.is === 'struck' && v.key !== undefined && said === v.yes) keys.add(v.key);
    else if (v.is === 'key' && v.as === 'bits')
      v.keys?.forEach((key, bit) => {
        if (Math.floor(Number(said) / 2 ** bit) % 2 === 1) keys.add(key);
      });
  }
  return [...keys].map((key) => ({ key, force: forces.get(key) ?? null }));
}
