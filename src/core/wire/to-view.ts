import type { Piece } from '../score/piece';
import { mapsOf } from '../score/inventory';
import { sortByKey } from '../score/columns';
import {
  endTickOf,
  firstTickOf,
  isIn,
  OFF_MISSING,
  type EventColumns,
  type NoteColumns,
  type Part,
} from '../score/score';
import { BANK, CONTROL, curvesIn, presetsIn } from '../reading/curves';
import type { NoteView, PartView, PieceWire, Schedule, TurnsView } from './view';

/** SMF 1.0, "<sysex event>". */
const EXCLUSIVE = 0xf0;

/** Gives columns a number by which the screen knows them. */
export class ColumnKeys {
  private readonly keys = new WeakMap<NoteColumns | EventColumns, number>();
  private next: number;
  /** @param epoch which of several workers that follow each other: keys are never given twice */
  constructor(epoch = 0) {
    this.next = epoch * 2 ** 32 + 1;
  }
  of(columns: NoteColumns | EventColumns): number {
    const known = this.keys.get(columns);
    if (known !== undefined) return known;
    this.keys.set(columns, this.next);
    return this.next++;
  }
}

/** A view of a piece, with copies of those columns that are not known yet, to be transferred. */
export function toWire(
  piece: Piece,
  keys: ColumnKeys,
  known: ReadonlySet<number>,
): { wire: PieceWire; transfer: ArrayBuffer[] } {
  const { score, delivery } = piece;
  const transfer: ArrayBuffer[] = [];
  const copy = (notes: NoteColumns, key: number): NoteView => {
    const view = {
      key,
      count: notes.count,
      start: notes.start.slice(),
      end: notes.end.slice(),
      noteNumber: notes.noteNumber.slice(),
      velocity: notes.velocity.slice(),
      id: notes.id.slice(),
      origin: notes.origin.slice(),
    };
    const { start, end, noteNumber, velocity, id, origin } = view;
    for (const column of [start, end, noteNumber, velocity, id, origin])
      transfer.push(column.buffer as ArrayBuffer);
    return view;
  };
  const wire: PieceWire = {
    division: score.division,
    tempos: score.conductor.tempos.map(({ tick, microsecondsPerQuarter }) => ({
      tick,
      microsecondsPerQuarter,
    })),
    meters: score.conductor.meters.map(({ tick, numerator, denominator }) => ({
      tick,
      numerator,
      denominator,
    })),
    markers: score.conductor.markers.map(({ tick, text }) => ({ tick, text })),
    captions: (piece.captions ?? []).map(({ tick, text }) => ({ tick, text })),
    endTick: endTickOf(score),
    firstTick: firstTickOf(score),
    delivery,
    fromBase: piece.fromBase ?? null,
    sound: piece.sound ?? [],
    parts: score.parts.map((part) => {
      const key = keys.of(part.notes);
      return {
        ...partFacts(part),
        columns: known.has(key) ? key : copy(part.notes, key),
        turns: turnsOf(part, keys, known, transfer),
      };
    }),
  };
  return { wire, transfer };
}

/** Presets and curves of a part by itself; those of a channel may stand on several. */
function turnsOf(
  part: Part,
  keys: ColumnKeys,
  known: ReadonlySet<number>,
  transfer: ArrayBuffer[],
): TurnsView | number | null {
  if (part.events.count === 0) return null;
  const key = keys.of(part.events);
  if (known.has(key)) return key;
  const own = presetsIn([part]);
  const presets = {
    tick: Int32Array.from(own, (p) => p.tick),
    bank: Uint8Array.from(own, (p) => p.bank),
    program: Uint8Array.from(own, (p) => p.program),
  };
  const curves = curvesIn([part])
    .filter((c) => c.kind !== CONTROL || (c.number !== BANK && c.number !== 32))
    .map(({ kind, number, tick, value }) => ({ kind, number, tick, value }));
  if (own.length + curves.length === 0) return null;
  for (const column of [...Object.values(presets), ...curves.flatMap((c) => [c.tick, c.value])])
    transfer.push(column.buffer as ArrayBuffer);
  return { key, presets, curves };
}

function partFacts(part: Part): Omit<PartView, 'columns' | 'turns'> {
  const { notes, events } = part;
  let lowest = 127;
  let highest = 0;
  let longest = 0;
  for (let i = 0; i < notes.count; i++) {
    const key = notes.noteNumber[i]!;
    if (key < lowest) lowest = key;
    if (key > highest) highest = key;
    const length = notes.end[i]! - notes.start[i]!;
    if (length > longest) longest = length;
  }
  let program: number | null = null;
  for (let i = 0; i < events.count && program === null; i++)
    if (events.kind[i] === 0xc0) program = events.data1[i]!;
  return {
    id: part.id,
    ref: part.ref,
    name: part.name,
    track: part.track,
    channel: part.channel,
    program,
    leftOut: part.leftOut,
    seat: part.seat,
    lowest,
    highest,
    longest,
  };
}

/** Everything that sounds, in clock order: ends before events before beginnings at one tick. */
export function toSchedule(piece: Piece, options: { leftOutToo: boolean }): Schedule {
  const { score } = piece;
  const { clock } = mapsOf(score);
  const parts = score.parts.map((part, index) => ({ part, index }));
  const heard = parts.filter(({ part }) => options.leftOutToo || isIn(part));
  const total = heard.reduce((n, { part }) => n + part.notes.count * 2 + part.events.count, 0);
  const key = new Float64Array(total);
  const raw = {
    tick: new Int32Array(total),
    status: new Uint8Array(total),
    data1: new Uint8Array(total),
    data2: new Uint8Array(total),
    part: new Uint32Array(total),
  };
  let at = 0;
  const add = (tick: number, rank: number, s: number, d1: number, d2: number, p: number) => {
    key[at] = tick * 4 + rank;
    raw.tick[at] = tick;
    raw.status[at] = s;
    raw.data1[at] = d1;
    raw.data2[at] = d2;
    raw.part[at++] = p;
  };
  for (const { part, index } of heard) {
    const c = part.channel - 1;
    const { notes, events } = part;
    for (let i = 0; i < notes.count; i++) {
      const stuck = notes.offKind[i] === OFF_MISSING;
      add(notes.start[i]!, 2, 0x90 | c, notes.noteNumber[i]!, notes.velocity[i]!, index);
      // A stuck note is ended with its track, or it would sound on behind the music.
      const end = Math.max(notes.end[i]!, notes.start[i]! + (stuck ? 1 : 0));
      const rank = end > notes.start[i]! ? 0 : 3;
      add(end, rank, 0x80 | c, notes.noteNumber[i]!, notes.offVelocity[i]!, index);
    }
    for (let i = 0; i < events.count; i++)
      if (events.kind[i]! >= 0xa0)
        add(events.tick[i]!, 1, events.kind[i]! | c, events.data1[i]!, events.data2[i]!, index);
  }
  const order = sortByKey(key.subarray(0, at));
  const exclusives = score.tracks
    .flatMap((t) => t.events)
    .filter((e) => e.status === EXCLUSIVE)
    .map((e) => ({ ms: clock.msAt(e.tick), bytes: e.bytes }))
    .sort((a, b) => a.ms - b.ms);
  return {
    count: at,
    ...(exclusives.length === 0 ? {} : { exclusives }),
    ms: Float64Array.from(order, (i) => clock.msAt(raw.tick[i]!)),
    status: Uint8Array.from(order, (i) => raw.status[i]!),
    data1: Uint8Array.from(order, (i) => raw.data1[i]!),
    data2: Uint8Array.from(order, (i) => raw.data2[i]!),
    part: Uint32Array.from(order, (i) => raw.part[i]!),
    endMs: clock.msAt(endTickOf(score)),
  };
}
