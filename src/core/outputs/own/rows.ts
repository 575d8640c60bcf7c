import { deliveredEnd } from '../../reading/ends';
import { heardNotes, type HeardNotes } from '../../reading/heard-notes';
import { keyName, mapsOf, type Maps } from '../../score/inventory';
import type { Caption, Piece } from '../../score/piece';
import { isIn, ticksPerQuarterOf, type Marker, type Part } from '../../score/score';
import { stemOf } from '../../smf/name';
import type { Seat, Target } from '../../target/schema';
import { bpmOf, firstInForce, type TempoEvent } from '../../time/tempo-map';
import type { MeterEvent } from '../../time/meter-map';
import { phrasesOf } from '../../reading/phrases';
import type { Rows, When } from '../../formats/own/schema';
import { gridOf } from './grid';
import type { Grid, World } from './world';

/** One row: what it is of, and what it holds for the rows inside it. */
export interface Row {
  readonly of: Rows['of'];
  readonly tick: number;
  readonly endTick: number;
  /** Where it stands by the clock, of what stands between ticks. */
  readonly ms?: readonly [start: number, end: number];
  /** Index of the one note that it is. */
  readonly note?: number;
  /** Notes that rows inside it are taken from; all where none are named. */
  readonly notes?: readonly number[];
  readonly on?: boolean;
  readonly tempo?: number;
  readonly meter?: MeterEvent;
  /** Of a key signature its words. */
  readonly signature?: string;
  readonly text?: string;
  readonly seat?: Seat | undefined;
  readonly part?: Part | undefined;
  readonly channel?: number;
  readonly rung?: number;
  readonly controller?: readonly [number: number, value: number];
  /** The key of a lane. */
  readonly key?: number;
  /** All notes that bars were gathered of. */
  readonly all?: readonly number[];
  readonly cell?: { readonly grid: Grid; readonly at: number };
}

/** Facts that a file can name: what was told, and what the piece knows of itself. */
function factsOf(piece: Piece, maps: Maps, endTick: number, notes: HeardNotes) {
  const { conductor } = piece.score;
  const stem = stemOf(piece.delivery.fileName);
  const first = firstInForce(conductor.tempos);
  const us = first?.tick === 0 ? first.microsecondsPerQuarter : 500_000;
  const meter = maps.bars.meterAt(0);
  const out = new Map<string, string>([
    ['file', stem],
    ['title', stem],
    ['bpm', String(bpmOf(us))],
    ['ppq', String(ticksPerQuarterOf(piece.score.division))],
    ['lengthTicks', String(endTick)],
    ['lengthMs', String(maps.clock.msAt(endTick))],
    ['lengthSeconds', String(maps.clock.msAt(endTick) / 1000)],
    ['bars', String(maps.bars.barCount(endTick))],
    ['numerator', String(meter.numerator)],
    ['denominator', String(meter.denominator)],
    ['notes', String(notes.count)],
  ]);
  for (const [key, value] of Object.entries(piece.delivery.metadata ?? {}))
    if (value !== undefined) out.set(key, value);
  return out;
}

export function worldOf(piece: Piece, target: Target, parts?: readonly Part[]): World {
  const maps = mapsOf(piece.score);
  const endTick = deliveredEnd(piece);
  const notes = heardNotes(piece, parts);
  const flags = new Map<number, string[]>();
  for (const { flag, notes: own } of piece.flags ?? [])
    for (const id of own) flags.set(id, [...(flags.get(id) ?? []), flag]);
  return {
    piece,
    target,
    maps,
    ppq: ticksPerQuarterOf(piece.score.division),
    endTick,
    notes,
    flags,
    facts: factsOf(piece, maps, endTick, notes),
    grids: new Map(),
    counts: new Map(),
  };
}

export const partOf = ({ notes }: World, note: number): Part => notes.parts[notes.part[note]!]!;
export const seatOfNote = (world: World, note: number): Seat | undefined => {
  const id = partOf(world, note).seat;
  return world.target.seats.find((s) => s.id === id);
};
const rungOf = (seat: Seat | undefined) => (seat?.kind === 'laneGroup' ? seat.rung : undefined);

/** The rows of a kind, inside another row or of the whole; in the order that is asked for. */
export function rowsOf(rows: Rows, world: World, inside: Row | null): Row[] {
  const { notes, maps, target } = world;
  const meant = (): number[] => {
    const from =
      inside?.notes ??
      (inside?.note === undefined
        ? Array.from({ length: notes.count }, (_, i) => i)
        : [inside.note]);
    return from.filter((i) => isMeant(i, rows, world));
  };
  const noteRow = (i: number): Row => ({
    of: 'notes',
    tick: notes.start[i]!,
    endTick: notes.end[i]!,
    note: i,
    ...(rows.rate === undefined ? {} : { ms: onFrames(i, rows.rate, world) }),
  });
  const gathered = (key: (i: number) => number, own: readonly number[] = meant()) => {
    const by = new Map<number, number[]>();
    for (const i of own) {
      const k = key(i);
      const there = by.get(k);
      if (there) there.push(i);
      else by.set(k, [i]);
    }
    return by;
  };
  const endOf = (own: readonly number[]) => own.reduce((end, i) => Math.max(end, notes.end[i]!), 0);
  const conductor = world.piece.score.conductor;
  const within = <T extends { readonly tick: number }>(list: readonly T[]): readonly T[] =>
    inside?.of === 'bars' || inside?.of === 'frames'
      ? list.filter((e) => e.tick >= inside.tick && e.tick < inside.endTick)
      : list;
  switch (rows.of) {
    case 'notes':
      return onceEach(inOrder(meant().map(noteRow), rows, world), rows, world, inside);
    case 'strikes':
      return strikesOf(rows, world, meant()).map((own) => ({
        of: 'strikes',
        tick: notes.start[own[0]!]!,
        endTick: endOf(own),
        note: own[0]!,
        notes: own,
      }));
    case 'events': {
      const out = meant().flatMap((i): Row[] => {
        const row: Row = { ...noteRow(i), of: 'events', on: true };
        const off: Row = { ...row, on: false, tick: row.endTick };
        return [row, row.ms ? { ...off, ms: [row.ms[1], row.ms[1]] } : off];
      });
      // What ends goes before what begins, unless it is said otherwise.
      return inOrder(out, { ...rows, order: rows.order ?? ['start', 'off-first'] }, world);
    }
    case 'tempos':
      return withFirst(within<TempoEvent>(conductor.tempos), inside, (tick) => ({
        tick,
        microsecondsPerQuarter: 500_000,
      })).map((t) => ({
        of: 'tempos',
        tick: t.tick,
        endTick: t.tick,
        tempo: t.microsecondsPerQuarter,
      }));
    case 'meters':
      return withFirst(within<MeterEvent>(maps.bars.meters), inside, (tick) => ({
        tick,
        numerator: 4,
        denominator: 4,
      })).map((m) => ({ of: 'meters', tick: m.tick, endTick: m.tick, meter: m }));
    case 'changes':
      return changesOf(world, within);
    case 'markers':
      // A marker is in force until the next one: that is its length.
      return within<Marker>(conductor.markers).map((m, i, all) => ({
        of: 'markers',
        tick: m.tick,
        endTick: Math.max(m.tick, all[i + 1]?.tick ?? world.endTick),
        text: m.text,
      }));
    case 'captions': {
      const all = within<Caption>(world.piece.captions ?? []);
      return all.map((c, i) => ({
        of: 'captions',
        tick: c.tick,
        endTick: all[i + 1]?.tick ?? world.endTick,
        text: c.text,
      }));
    }
    case 'bars': {
      const own = meant();
      const by = gathered((i) => maps.bars.barAt(notes.start[i]!), own);
      const count = maps.bars.barCount(world.endTick);
      const all = rows.empty ? Array.from({ length: count }, (_, b) => b) : [...by.keys()];
      return all.map((bar) => ({
        of: 'bars',
        tick: maps.bars.barStart(bar),
        endTick: maps.bars.barStart(bar + 1),
        notes: by.get(bar) ?? [],
        all: own,
        seat: inside?.seat,
      }));
    }
    case 'frames': {
      const rate = rows.rate ?? 25;
      const frame = (tick: number) =>
        Math.floor((maps.clock.msAt(tick) * rate) / 1000 + 0.5 + 1e-9);
      const by = gathered((i) => frame(notes.start[i]!));
      const last = Math.min(4_000_000, frame(world.endTick));
      const all = rows.empty ? Array.from({ length: last }, (_, f) => f) : [...by.keys()];
      return all.map((f) => ({
        of: 'frames',
        tick: maps.clock.tickAt((f * 1000) / rate),
        endTick: maps.clock.tickAt(((f + 1) * 1000) / rate),
        ms: [(f * 1000) / rate, ((f + 1) * 1000) / rate],
        notes: by.get(f) ?? [],
      }));
    }
    case 'cells':
      return cellsOf(rows, world, inside, inside?.all ?? meant());
    case 'lanes':
      return lanesOf(rows, world, inside, meant());
    case 'controllers':
      return controllersOf(rows, world, inside);
    case 'seats': {
      const by = gathered((i) => target.seats.findIndex((s) => s.id === partOf(world, i).seat));
      const at = (n: number): Row => ({
        of: 'seats',
        tick: 0,
        endTick: world.endTick,
        notes: by.get(n) ?? [],
        seat: target.seats[n],
      });
      const all = target.seats.map((_, n) => n).filter((n) => rows.empty || by.has(n));
      return all.filter((n) => rows.seats?.includes(target.seats[n]!.id) ?? true).map(at);
    }
    case 'parts': {
      const by = gathered((i) => notes.part[i]!);
      // As they stand in the score, whoever begins.
      const inScore = [...by].sort(([a], [b]) => a - b);
      return inScore.map(([part, own]) => ({
        of: 'parts',
        tick: 0,
        endTick: world.endTick,
        notes: own,
        part: notes.parts[part]!,
      }));
    }
    case 'channels':
      return [...gathered((i) => partOf(world, i).channel)]
        .sort(([a], [b]) => a - b)
        .map(([channel, own]) => ({
          of: 'channels',
          tick: 0,
          endTick: world.endTick,
          notes: own,
          channel,
        }));
    case 'phrases': {
      const own = meant();
      const columns = {
        count: own.length,
        start: Int32Array.from(own, (i) => notes.start[i]!),
        end: Int32Array.from(own, (i) => notes.end[i]!),
      };
      let at = 0;
      return phrasesOf(columns, maps, rows.pauseBeats ?? PAUSE_BEATS).map((phrase) => ({
        of: 'phrases',
        tick: phrase.fromTick,
        endTick: phrase.toTick,
        notes: own.slice(at, (at += phrase.notes)),
        seat: inside?.seat,
      }));
    }
    case 'rungs': {
      const by = gathered((i) => rungOf(seatOfNote(world, i)) ?? 0);
      return [...by.keys()]
        .sort((a, b) => a - b)
        .map((rung) => ({
          of: 'rungs',
          tick: 0,
          endTick: world.endTick,
          notes: by.get(rung)!,
          rung,
        }));
    }
  }
}

type Within = <T extends { readonly tick: number }>(list: readonly T[]) => readonly T[];

/** A row for each tick at which tempo, meter, key or marker change; several of a kind are several rows. */
function changesOf({ piece }: World, within: Within): Row[] {
  const { tempos, meters, keys, markers } = piece.score.conductor;
  const at = new Map<number, Partial<Row>[]>();
  const put = <T extends { readonly tick: number }>(
    list: readonly T[],
    says: (e: T) => Partial<Row>,
  ) => {
    const met = new Map<number, number>();
    for (const event of within(list)) {
      const own = at.get(event.tick) ?? [];
      at.set(event.tick, own);
      const nth = met.get(event.tick) ?? 0;
      met.set(event.tick, nth + 1);
      own[nth] = { ...own[nth], ...says(event) };
    }
  };
  put<TempoEvent>(tempos, (t) => ({ tempo: t.microsecondsPerQuarter }));
  put<MeterEvent>(meters, (meter) => ({ meter }));
  put(keys, (k) => ({ signature: keyName(k.bytes) }));
  put<Marker>(markers, (m) => ({ text: m.text }));
  return [...at]
    .sort(([a], [b]) => a - b)
    .flatMap(([tick, rows]) =>
      rows.map((own): Row => ({ ...own, of: 'changes', tick, endTick: tick })),
    );
}

/** Beats without a note that end a phrase, where none are given. */
const PAUSE_BEATS = 4;

/** The frames that a note stands on, in ms: the nearest ones, and one at least. */
function onFrames(i: number, rate: number, { maps, notes }: World): [start: number, end: number] {
  const frame = (tick: number) => Math.floor((maps.clock.msAt(tick) * rate) / 1000 + 0.5 + 1e-9);
  const on = frame(notes.start[i]!);
  const off = Math.max(on + 1, frame(notes.end[i]!));
  return [(on * 1000) / rate, (off * 1000) / rate];
}

/** Notes that are struck together: at one place, and alike where that is asked for. */
function strikesOf({ alike }: Rows, { notes, flags }: World, own: readonly number[]): number[][] {
  const by = new Map<string | number, number[]>();
  const keys = new Map<string, Set<number>>();
  for (const i of own) {
    const tick = notes.start[i]!;
    if (!alike) {
      const there = by.get(tick);
      if (there) there.push(i);
      else by.set(tick, [i]);
      continue;
    }
    const says = alike.map((a) =>
      a === 'length'
        ? notes.end[i]! - tick
        : a === 'velocity'
          ? notes.velocity[i]!
          : [...(flags.get(notes.id[i]!) ?? [])].sort().join(),
    );
    const place = `${tick} ${says.join(' ')}`;
    // A key stands once in a strike: one that is struck twice is two of them.
    let at = place;
    for (let n = 2; keys.get(at)?.has(notes.key[i]!); n++) at = `${place}#${n}`;
    const there = by.get(at);
    if (there) there.push(i);
    else by.set(at, [i]);
    keys.set(at, (keys.get(at) ?? new Set()).add(notes.key[i]!));
  }
  return [...by.values()];
}

/** Whether a value is meant for a row; what a row is not of is never meant. */
export function isCase(when: When, row: Row | null, inside: Row | null, world: World): boolean {
  const { seats, rungs, parts, on, ...ofNote } = when;
  const note = row?.note ?? inside?.note;
  if (on !== undefined && row?.on !== on) return false;
  if (parts) {
    const own = row?.part ?? inside?.part ?? (note === undefined ? null : partOf(world, note));
    if (!own || !parts.includes(own.name)) return false;
  }
  if (seats || rungs) {
    const own = row?.seat ?? inside?.seat ?? (note === undefined ? null : seatOfNote(world, note));
    if (seats && !(own && seats.includes(own.id))) return false;
    const rung = row?.rung ?? inside?.rung ?? rungOf(own ?? undefined);
    if (rungs && !(rung !== undefined && rungs.includes(rung))) return false;
  }
  if (Object.keys(ofNote).length === 0) return true;
  return note !== undefined && isMeant(note, { of: 'notes', ...ofNote }, world);
}

function isMeant(i: number, rows: Rows, world: World): boolean {
  const { notes } = world;
  const { seats, rungs, keys, flag, longerMs, shorterMs } = rows;
  if (rows.onLanes) {
    const seat = seatOfNote(world, i);
    if (seat?.kind === 'laneGroup' && !seat.laneNotes.includes(notes.key[i]!)) return false;
  }
  if (keys && !keys.includes(notes.key[i]!)) return false;
  if (flag !== undefined && !world.flags.get(notes.id[i]!)?.includes(flag)) return false;
  if (seats || rungs) {
    const seat = seatOfNote(world, i);
    if (seats && !(seat && seats.includes(seat.id))) return false;
    const rung = rungOf(seat);
    if (rungs && !(rung !== undefined && rungs.includes(rung))) return false;
  }
  const { longerQuarters, shorterQuarters, harder = 0, softer = 128 } = rows;
  const velocity = notes.velocity[i]!;
  if (velocity < harder || velocity >= softer) return false;
  const quarters = (notes.end[i]! - notes.start[i]!) / world.ppq;
  if (quarters < (longerQuarters ?? 0) - 1e-9) return false;
  if (quarters >= (shorterQuarters ?? Infinity) - 1e-9) return false;
  if (longerMs === undefined && shorterMs === undefined) return true;
  const { clock } = world.maps;
  const ms = clock.msAt(notes.end[i]!) - clock.msAt(notes.start[i]!);
  return ms >= (longerMs ?? 0) - 1e-6 && ms < (shorterMs ?? Infinity) - 1e-6;
}

/** A tempo and a meter are in force from the start, stated or not. */
function withFirst<T extends { readonly tick: number }>(
  list: readonly T[],
  inside: Row | null,
  make: (tick: number) => T,
): readonly T[] {
  if (inside !== null || list.some((e) => e.tick === 0)) return list;
  return [make(0), ...list];
}

const sorted = <T>(list: T[], by: (a: T, b: T) => number): T[] =>
  list
    .map((item, i) => ({ item, i }))
    .sort((a, b) => by(a.item, b.item) || a.i - b.i)
    .map(({ item }) => item);

function inOrder(list: Row[], { order }: Rows, world: World): Row[] {
  if (!order) return list;
  const { notes, target } = world;
  const numbers = new Map(target.seats.map((s, n) => [s.id, n]));
  const seatNumber = (r: Row) => numbers.get(partOf(world, r.note!).seat ?? '') ?? -1;
  const by = (o: NonNullable<Rows['order']>[number], a: Row, b: Row): number => {
    if (o === 'start') return (a.ms?.[0] ?? a.tick) - (b.ms?.[0] ?? b.tick);
    if (o === 'end') return (a.ms?.[1] ?? a.endTick) - (b.ms?.[1] ?? b.endTick);
    if (o === 'off-first') return Number(a.on ?? true) - Number(b.on ?? true);
    if (o === 'begun') return notes.start[a.note!]! - notes.start[b.note!]!;
    if (o === 'channel') return partOf(world, a.note!).channel - partOf(world, b.note!).channel;
    if (o === 'key') return notes.key[a.note!]! - notes.key[b.note!]!;
    if (o === 'key-down') return notes.key[b.note!]! - notes.key[a.note!]!;
    if (o === 'seat') return seatNumber(a) - seatNumber(b);
    if (o === 'part') return notes.part[a.note!]! - notes.part[b.note!]!;
    return 0;
  };
  return sorted(list, (a, b) => {
    for (const o of order) {
      const d = by(o, a, b);
      if (d !== 0) return d;
    }
    return 0;
  });
}

/** Where it is asked for, of notes with one key at one place the first. */
function onceEach(list: Row[], { once }: Rows, { notes }: World, inside: Row | null): Row[] {
  if (!once) return list;
  const met = new Set<string>();
  return list.filter((r) => {
    const place = `${inside === null ? r.tick : ''} ${notes.key[r.note!]!}`;
    if (met.has(place)) return false;
    met.add(place);
    return true;
  });
}

const CONTROL = 0xb0;

function controllersOf({ controllers }: Rows, world: World, inside: Row | null): Row[] {
  const own = inside?.part
    ? [inside.part]
    : inside?.seat
      ? world.piece.score.parts.filter((p) => p.seat === inside.seat!.id)
      : world.piece.score.parts;
  const out: Row[] = [];
  for (const part of own.filter(isIn))
    for (let i = 0; i < part.events.count; i++) {
      if (part.events.kind[i] !== CONTROL) continue;
      const number = part.events.data1[i]!;
      if (controllers && !controllers.includes(number)) continue;
      const tick = part.events.tick[i]!;
      out.push({
        of: 'controllers',
        tick,
        endTick: tick,
        part,
        controller: [number, part.events.data2[i]!],
      });
    }
  return sorted(out, (a, b) => a.tick - b.tick);
}

/** The cells of a grid: of the bar that they stand in, or of the whole piece. */
function cellsOf(rows: Rows, world: World, inside: Row | null, own: readonly number[]): Row[] {
  const grid = gridOf(rows, world, own, inside?.of === 'bars');
  const { bars } = world.maps;
  const bar = inside?.of === 'bars' ? bars.barAt(inside.tick) : null;
  const [from, to] = bar === null ? [0, grid.count] : [grid.firstOf(bar), grid.firstOf(bar + 1)];
  const out: Row[] = [];
  for (let at = from; at < to; at++) {
    const notes = grid.struck.get(at) ?? [];
    if (notes.length === 0 && !rows.empty) continue;
    out.push({
      of: 'cells',
      tick: grid.tickAt(at),
      endTick: grid.tickAt(at + 1),
      notes,
      seat: inside?.seat,
      cell: { grid, at },
      ...(notes.length > 0 ? { note: notes[0]! } : {}),
    });
  }
  return out;
}

/** A lane for each key: those that are named, those of the seat above, else those of the one lane seat. */
function lanesOf(rows: Rows, world: World, inside: Row | null, own: readonly number[]): Row[] {
  const { target, notes, endTick } = world;
  const groups = target.seats.filter((s) => s.kind === 'laneGroup');
  const seat = inside?.seat ?? (groups.length === 1 ? groups[0] : undefined);
  const told = rows.keys ?? (seat?.kind === 'laneGroup' ? seat.laneNotes : undefined);
  const keys = told ?? [...new Set(own.map((i) => notes.key[i]!))].sort((a, b) => a - b);
  return keys.map((key) => {
    const here = own.filter((i) => notes.key[i] === key);
    return {
      of: 'lanes',
      tick: inside?.tick ?? 0,
      endTick: inside?.endTick ?? endTick,
      key,
      notes: here,
      seat: inside?.seat ?? (rows.keys ? undefined : seat),
      ...(inside?.cell ? { cell: inside.cell } : {}),
      ...(inside?.cell && here.length > 0 ? { note: here[0]! } : {}),
    };
  });
}
