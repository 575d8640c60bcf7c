import { isByNote, keepsLimit, type Limit } from '../target/limit-schema';
import type { Target } from '../target/schema';
import { mapsOf, type Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';
import { layoutOf } from '../score/layout';
import { deliveredEnd } from './ends';
import { heardNotes, type HeardNotes } from './heard-notes';
import { seatPartsOf, toldByOf } from './lines';

/** What breaks a limit: a note, or a whole that no note of can be passed over. */
export interface Breach {
  readonly value: number;
  /** The note by its id and part; none where the whole is meant. */
  readonly note: { readonly id: number; readonly part: Part } | null;
  readonly fromTick: number;
  readonly toTick: number;
  /** The seat that it stands on, by id, where there is one. */
  readonly seat: string | null;
}

/**
 * Everything in a piece that breaks a limit. A note that breaks it is not there for those behind it, as
 * a device that passes it over has it. One pass over the notes, and what a second or a bar holds.
 */
export function breachesOf(piece: Piece, limit: Limit, target: Target): Breach[] {
  const maps = mapsOf(piece.score);
  const end = deliveredEnd(piece);
  if (limit.over === 'file' || limit.over === 'piece') {
    const whole = ofWhole(piece, limit, maps, end);
    if (whole)
      return whole
        .filter(({ value }) => !keepsLimit(limit, value))
        .map((w) => ({ ...w, note: null, seat: null }));
  }
  const groups =
    limit.over === 'piece'
      ? [piece.score.parts.filter(isIn)]
      : seatPartsOf(piece, toldByOf(target));
  return groups.flatMap((parts) => {
    const seat = parts[0]?.seat ?? null;
    if (limit.where?.seats && (seat === null || !limit.where.seats.includes(seat))) return [];
    return ofGroup(heardNotes(piece, parts), seat, limit, target, maps, end);
  });
}

const isMeant = (notes: HeardNotes, i: number, { where }: Limit, maps: Maps): boolean => {
  if (!where) return true;
  const { keys, softest = 1, hardest = 127, fromBar, toBar } = where;
  if (keys && !keys.includes(notes.key[i]!)) return false;
  if (notes.velocity[i]! < softest || notes.velocity[i]! > hardest) return false;
  if (fromBar === undefined && toBar === undefined) return true;
  const bar = maps.bars.barAt(notes.start[i]!) + 1;
  return bar >= (fromBar ?? 1) && bar <= (toBar ?? Infinity);
};

type Whole = Pick<Breach, 'value' | 'fromTick' | 'toTick'>;

/** Measures of the piece that are no counts of notes; null where they are. */
function ofWhole(piece: Piece, { measure }: Limit, maps: Maps, end: number): Whole[] | null {
  const { score } = piece;
  const all = (value: number): Whole[] => [{ value, fromTick: 0, toTick: Math.max(1, end) }];
  switch (measure) {
    case 'tempo-bpm': {
      const at = score.conductor.tempos;
      const stated = at.some((t) => t.tick === 0);
      return [...(stated ? [] : [{ tick: 0, microsecondsPerQuarter: 500_000 }]), ...at].map(
        (t) => ({
          value: 60_000_000 / t.microsecondsPerQuarter,
          fromTick: t.tick,
          toTick: t.tick + 1,
        }),
      );
    }
    case 'bar-quarters': {
      const at = score.conductor.meters;
      const stated = at.some((t) => t.tick === 0);
      return [...(stated ? [] : [{ tick: 0, numerator: 4, denominator: 4 }]), ...at].map((m) => ({
        value: (m.numerator * 4) / m.denominator,
        fromTick: m.tick,
        toTick: m.tick + 1,
      }));
    }
    case 'clock-ms':
      return all(maps.clock.msAt(end));
    case 'bars':
      return all(maps.bars.barCount(end));
    case 'tracks':
      return all(
        layoutOf(piece).filter(({ parts }) => parts.some((p) => score.parts[p]!.notes.count > 0))
          .length,
      );
    default:
      return null;
  }
}

function ofGroup(
  notes: HeardNotes,
  seat: string | null,
  limit: Limit,
  target: Target,
  maps: Maps,
  end: number,
): Breach[] {
  const out: Breach[] = [];
  const at = (i: number, value: number): Breach => ({
    value,
    note: { id: notes.id[i]!, part: notes.parts[notes.part[i]!]! },
    fromTick: notes.start[i]!,
    toTick: Math.max(notes.start[i]! + 1, notes.end[i]!),
    seat,
  });
  const meant: number[] = [];
  for (let i = 0; i < notes.count; i++) if (isMeant(notes, i, limit, maps)) meant.push(i);
  if (limit.over === 'note' || limit.over === 'strike')
    return byNote(notes, meant, seat, limit, target, maps, at);
  if (isByNote(limit)) return counting(notes, meant, limit, maps, at);
  const whole = (value: number): Breach[] =>
    keepsLimit(limit, value)
      ? []
      : [{ value, note: null, fromTick: 0, toTick: Math.max(1, end), seat }];
  if (limit.measure === 'sounding-percent') return whole(soundingOf(notes, meant, maps, end));
  if (limit.measure === 'filled-percent') {
    const bars = new Set(meant.map((i) => maps.bars.barAt(notes.start[i]!)));
    return whole((bars.size * 100) / Math.max(1, maps.bars.barCount(end)));
  }
  // A least of notes, strikes or keys: what is counted, by its stretches.
  for (const stretch of stretchesOf(notes, meant, limit, maps, end)) {
    const value = countIn(notes, stretch.notes, limit);
    if (!keepsLimit(limit, value))
      out.push({ value, note: null, fromTick: stretch.from, toTick: stretch.to, seat });
  }
  return out;
}

function byNote(
  notes: HeardNotes,
  meant: readonly number[],
  seat: string | null,
  limit: Limit,
  target: Target,
  maps: Maps,
  at: (i: number, value: number) => Breach,
): Breach[] {
  const out: Breach[] = [];
  const seatOf = target.seats.find((s) => s.id === seat);
  const lanes = seatOf?.kind === 'laneGroup' ? seatOf.laneNotes : null;
  /** What lies on no lane is another finding: from there and to there is no jump. */
  const laneOf = (key: number) => (lanes ? (lanes.includes(key) ? lanes.indexOf(key) : NaN) : key);
  /** The last strike that was kept, the one before it, and when what sounds ends. */
  let strike = -1;
  let strikeBefore = -1;
  let key: number | null = null;
  let run = 0;
  let soundsUntil = -Infinity;
  let inStrike: number[] = [];
  for (const i of meant) {
    const start = notes.start[i]!;
    const isNew = start !== strike;
    const since = isNew ? strike : strikeBefore;
    const own = isNew ? [] : inStrike;
    const value = ((): number | null => {
      switch (limit.measure) {
        case 'note-number':
          return notes.key[i]!;
        case 'velocity':
          return notes.velocity[i]!;
        case 'length-ms':
          return maps.clock.msAt(notes.end[i]!) - maps.clock.msAt(start);
        case 'gap-ms':
          return soundsUntil === -Infinity
            ? null
            : Math.max(0, maps.clock.msAt(start) - maps.clock.msAt(soundsUntil));
        case 'apart-ms':
          return since < 0 ? null : maps.clock.msAt(start) - maps.clock.msAt(since);
        case 'interval':
          return key === null ? null : Math.abs(notes.key[i]! - key);
        case 'jump':
          return key === null ? null : Math.abs(laneOf(notes.key[i]!) - laneOf(key));
        case 'run':
          return key === notes.key[i]! ? run + 1 : 1;
        case 'place-in-beat':
        case 'place-in-bar':
          return placeOf(limit.measure, maps, start);
        case 'together':
          return own.length + 1;
        case 'different-keys':
          return new Set([...own, notes.key[i]!]).size;
        default:
          return null;
      }
    })();
    if (value !== null && !Number.isNaN(value) && !keepsLimit(limit, value)) {
      out.push(at(i, value));
      continue;
    }
    if (isNew) [strikeBefore, strike, inStrike] = [strike, start, []];
    inStrike.push(notes.key[i]!);
    run = key === notes.key[i]! ? run + 1 : 1;
    key = notes.key[i]!;
    soundsUntil = Math.max(soundsUntil, notes.end[i]!);
  }
  return out;
}

/** Ticks past the beat, and how long a beat of the meter is. */
function fractionAt(maps: Maps, tick: number): { beat: number; tick: number } {
  const place = maps.bars.placeAt(tick);
  const start = maps.bars.barStart(place.bar - 1);
  const next = maps.bars.barStart(place.bar);
  const { numerator } = maps.bars.meterAt(start);
  return { beat: Math.max(1, (next - start) / numerator), tick: place.tick };
}

/** Where a tick stands in its beat, from 0 to 1, or in its bar, in beats. */
export function placeOf(
  measure: 'place-in-beat' | 'place-in-bar',
  maps: Maps,
  start: number,
): number {
  const { beat, tick } = fractionAt(maps, start);
  return measure === 'place-in-beat'
    ? tick / beat
    : maps.bars.placeAt(start).beat - 1 + tick / beat;
}

/** Notes that go over a count, in the order in which they begin. */
function counting(
  notes: HeardNotes,
  meant: readonly number[],
  limit: Limit,
  maps: Maps,
  at: (i: number, value: number) => Breach,
): Breach[] {
  const out: Breach[] = [];
  let kept: number[] = [];
  let first = 0;
  let bar = -1;
  const counts = new Map<number, number>();
  const value = (i: number): number => {
    if (limit.measure === 'notes') return kept.length - first + 1;
    const of = limit.measure === 'strikes' ? notes.start[i]! : notes.key[i]!;
    return counts.size + (counts.has(of) ? 0 : 1);
  };
  const keyOf = (i: number) => (limit.measure === 'strikes' ? notes.start[i]! : notes.key[i]!);
  const leave = (i: number) => {
    const left = (counts.get(keyOf(i)) ?? 0) - 1;
    if (left > 0) counts.set(keyOf(i), left);
    else counts.delete(keyOf(i));
  };
  for (const i of meant) {
    if (limit.over === 'second') {
      const now = maps.clock.msAt(notes.start[i]!);
      while (
        first < kept.length &&
        now - maps.clock.msAt(notes.start[kept[first]!]!) >= 1000 - 1e-6
      )
        leave(kept[first++]!);
    } else if (limit.over === 'bar') {
      const own = maps.bars.barAt(notes.start[i]!);
      if (own !== bar) {
        [bar, kept, first] = [own, [], 0];
        counts.clear();
      }
    }
    const now = value(i);
    if (!keepsLimit(limit, now)) {
      out.push(at(i, now));
      continue;
    }
    kept.push(i);
    counts.set(keyOf(i), (counts.get(keyOf(i)) ?? 0) + 1);
  }
  return out;
}

function soundingOf(notes: HeardNotes, meant: readonly number[], maps: Maps, end: number): number {
  let ms = 0;
  let until = 0;
  for (const i of meant) {
    const from = Math.max(until, notes.start[i]!);
    if (notes.end[i]! <= from) continue;
    ms += maps.clock.msAt(notes.end[i]!) - maps.clock.msAt(from);
    until = notes.end[i]!;
  }
  const whole = maps.clock.msAt(end);
  return whole === 0 ? 0 : (ms * 100) / whole;
}

interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly notes: readonly number[];
}

function stretchesOf(
  notes: HeardNotes,
  meant: readonly number[],
  { over, where }: Limit,
  maps: Maps,
  end: number,
): Stretch[] {
  if (over === 'seat' || over === 'piece') return [{ from: 0, to: Math.max(1, end), notes: meant }];
  const out: { from: number; to: number; notes: number[] }[] = [];
  if (over === 'bar') {
    const bars = maps.bars.barCount(end);
    const by = new Map<number, number[]>();
    for (const i of meant) {
      const bar = maps.bars.barAt(notes.start[i]!);
      const there = by.get(bar);
      if (there) there.push(i);
      else by.set(bar, [i]);
    }
    const last = Math.min(bars, where?.toBar ?? bars, 100_000);
    for (let bar = where?.fromBar ?? 1; bar <= last; bar++)
      out.push({
        from: maps.bars.barStart(bar - 1),
        to: maps.bars.barStart(bar),
        notes: by.get(bar - 1) ?? [],
      });
    return out;
  }
  // Whole seconds from the start, as a least can only be asked of these.
  const seconds = Math.min(100_000, Math.floor(maps.clock.msAt(end) / 1000 + 1e-6));
  let n = 0;
  for (let s = 0; s < seconds; s++) {
    const to = maps.clock.tickAt((s + 1) * 1000);
    const own: number[] = [];
    while (n < meant.length && maps.clock.msAt(notes.start[meant[n]!]!) < (s + 1) * 1000 - 1e-6)
      own.push(meant[n++]!);
    out.push({ from: maps.clock.tickAt(s * 1000), to, notes: own });
  }
  return out;
}

function countIn(notes: HeardNotes, own: readonly number[], { measure }: Limit): number {
  if (measure === 'notes') return own.length;
  const of = measure === 'strikes' ? notes.start : notes.key;
  return new Set(own.map((i) => of[i])).size;
}
