import * as z from 'zod';
import {
  newEvents,
  joinEvents,
  joinNotes,
  notesWhere,
  pickEvents,
  pickNotes,
} from '../score/columns';
import { layoutOf } from '../score/layout';
import {
  endTickOf,
  isIn,
  OFF_BY_NOTE_OFF,
  OFF_MISSING,
  type EventColumns,
  type Marker,
  type NoteColumns,
  type Score,
} from '../score/score';
import { encodeUtf8 } from '../smf/text';
import { LATEST_TICK } from '../smf/file';
import type { Piece } from '../plan/model';
import { count } from '../target/words';
import { changeParts, defineStep, done, nextId, withScore } from './define-step';

/** Where each track of the delivery ends: its end-of-track, or the last note that rings on. */
export function trackEnds(piece: Piece): number[] {
  const { score } = piece;
  return layoutOf(piece).map(({ tracks, parts }) => {
    let end = 0;
    for (const t of tracks) end = Math.max(end, score.tracks[t]!.endTick);
    for (const p of parts) {
      const { notes, track } = score.parts[p]!;
      end = Math.max(end, score.tracks[track]!.endTick);
      for (let i = 0; i < notes.count; i++) if (notes.end[i]! > end) end = notes.end[i]!;
    }
    return end;
  });
}

/** Where the delivery ends: its last track. */
export const deliveredEnd = (piece: Piece): number =>
  trackEnds(piece).reduce((a, b) => Math.max(a, b), 0);

/** The last tick at which a note of the delivery sounds. */
export function lastNoteEnd({ parts }: Score): number {
  let end = 0;
  for (const part of parts) {
    if (!isIn(part)) continue;
    const { notes } = part;
    for (let i = 0; i < notes.count; i++) if (notes.end[i]! > end) end = notes.end[i]!;
  }
  return end;
}

/** Notes that end by `tick`: those that begin later are gone, those that ring on are cut. */
function notesUntil(notes: NoteColumns, tick: number): NoteColumns {
  const kept = notesWhere(notes, (i) => notes.start[i]! < tick);
  const out = kept.length === notes.count ? { ...notes } : pickNotes(notes, kept);
  const end = Int32Array.from(out.end);
  const offOrder = Uint32Array.from(out.offOrder);
  const offKind = Uint8Array.from(out.offKind);
  for (let i = 0; i < out.count; i++) {
    if (end[i]! <= tick && offKind[i] !== OFF_MISSING) continue;
    end[i] = Math.min(end[i]!, tick);
    offOrder[i] = 0;
    if (offKind[i] === OFF_MISSING) offKind[i] = OFF_BY_NOTE_OFF;
  }
  return { ...out, end, offOrder, offKind };
}

const eventsWhere = (events: EventColumns, keep: (tick: number) => boolean): EventColumns => {
  const kept: number[] = [];
  for (let i = 0; i < events.count; i++) if (keep(events.tick[i]!)) kept.push(i);
  return kept.length === events.count ? events : pickEvents(events, kept);
};

/** Values of controllers, program, bend and pressure in force at a tick, as events at tick 0. */
function inForce(events: EventColumns, tick: number): EventColumns {
  const last = new Map<number, number>();
  for (let i = 0; i < events.count && events.tick[i]! < tick; i++) {
    const kind = events.kind[i]!;
    if (kind !== 0xb0 && kind !== 0xc0 && kind !== 0xd0 && kind !== 0xe0) continue;
    last.set(kind === 0xb0 ? 0xb000 + events.data1[i]! : kind * 256, i);
  }
  const kept = [...last.values()].sort((a, b) => a - b);
  const out = pickEvents(events, kept);
  return { ...out, tick: new Int32Array(out.count), order: new Uint32Array(out.count) };
}

/** The stretch of a score as a score of its own, beginning at tick 0 with what is in force there. */
export function cutScore(
  score: Score,
  fromTick: number,
  toTick: number,
): { score: Score; notes: number } {
  const length = toTick - fromTick;
  const inside = (tick: number) => tick >= fromTick && tick < toTick;
  const marks = <T extends { tick: number }>(list: readonly T[]): T[] => {
    const before = list.filter((e) => e.tick <= fromTick).at(-1);
    const later = list.filter((e) => e.tick > fromTick && e.tick < toTick);
    return [
      ...(before ? [{ ...before, tick: 0 }] : []),
      ...later.map((e) => ({ ...e, tick: e.tick - fromTick })),
    ];
  };
  let total = 0;
  const parts = score.parts.map((part) => {
    const here = notesWhere(part.notes, (i) => inside(part.notes.start[i]!));
    const picked = notesUntil(pickNotes(part.notes, here), toTick);
    if (isIn(part)) total += picked.count;
    const back = (ticks: Int32Array) => ticks.map((t) => t - fromTick);
    const within = eventsWhere(part.events, inside);
    return {
      ...part,
      notes: { ...picked, start: back(picked.start), end: back(picked.end) },
      events: joinEvents([inForce(part.events, fromTick), { ...within, tick: back(within.tick) }]),
    };
  });
  const { conductor } = score;
  const cut: Score = {
    ...score,
    conductor: {
      tempos: marks(conductor.tempos),
      meters: marks(conductor.meters),
      keys: marks(conductor.keys),
      markers: conductor.markers
        .filter((m) => inside(m.tick))
        .map((m) => ({ ...m, tick: m.tick - fromTick })),
    },
    tracks: score.tracks.map((track) => ({
      ...track,
      endTick: length,
      events: track.events
        .filter((e) => e.tick === 0 || inside(e.tick))
        .map((e) => ({ ...e, tick: Math.max(0, e.tick - fromTick) })),
    })),
    parts,
  };
  return { score: cut, notes: total };
}

export const setLength = defineStep({
  id: 'set-length',
  title: 'Set the length',
  summary:
    'Ends every track at one place: a bar line, a tick, or the common end. Cuts what lies beyond.',
  params: z.strictObject({
    bars: z.number().min(0.25).max(100_000).optional().describe('Length in bars'),
    toTick: z.int().min(1).max(LATEST_TICK).optional().describe('Ticks'),
  }),
  describe: (p) =>
    p.bars !== undefined
      ? `end after ${count(p.bars, 'bar')}`
      : p.toTick !== undefined
        ? `end at tick ${p.toTick}`
        : 'end all tracks at the common end',
  apply(input) {
    const { piece, params, maps } = input;
    const { score } = piece;
    let end = params.toTick ?? deliveredEnd(piece);
    if (params.bars !== undefined) {
      const whole = Math.floor(params.bars);
      const from = maps.bars.barStart(whole);
      const next = maps.bars.barStart(whole + 1);
      end = from + Math.round((next - from) * (params.bars - whole));
    }
    if (end > LATEST_TICK)
      return { refused: 'The end would pass the latest tick that a file can hold.' };
    let dropped = 0;
    let cut = 0;
    let events = 0;
    const early = (tick: number) => tick < end || tick === 0;
    const count2 = <T extends { tick: number }>(list: readonly T[]): readonly T[] => {
      const kept = list.filter((e) => early(e.tick));
      events += list.length - kept.length;
      return kept.length === list.length ? list : kept;
    };
    const next = changeParts(
      { ...input, select: { ...input.select, part: () => true } },
      (part) => {
        const { notes } = part;
        let rings = 0;
        for (let i = 0; i < notes.count; i++) {
          if (notes.start[i]! >= end) dropped++;
          else if (notes.end[i]! > end) rings++;
        }
        cut += rings;
        const over = notes.count > 0 && (rings > 0 || notes.start[notes.count - 1]! >= end);
        // An event at the very end prepares nothing any more, but costs nothing either.
        const kept = eventsWhere(part.events, (tick) => tick <= end);
        events += part.events.count - kept.count;
        if (!over && kept === part.events) return part;
        return { ...part, notes: over ? notesUntil(notes, end) : notes, events: kept };
      },
    );
    const { conductor } = score;
    const ended = withScore(next, {
      conductor: {
        tempos: count2(conductor.tempos),
        meters: count2(conductor.meters),
        keys: count2(conductor.keys),
        markers: count2(conductor.markers),
      },
      tracks: next.score.tracks.map((t) => ({
        ...t,
        endTick: end,
        events: t.events.filter((e) => e.tick <= end),
      })),
    });
    const longer = end > endTickOf(score);
    return done(
      ended,
      {
        dropped,
        changed: cut,
        verb: 'cut at the end',
        events,
        eventWords: 'events past the end taken out',
        says: longer ? 'Filled up to the end' : 'Ended there',
      },
      [
        { what: 'notes past the end', count: dropped },
        { what: 'events past the end', count: events },
      ],
    );
  },
});

export const repeat = defineStep({
  id: 'repeat',
  title: 'Repeat',
  summary: 'Plays a stretch of whole bars again behind itself; what follows moves later.',
  params: z.strictObject({
    fromBar: z.int().min(1).describe('First bar, from 1'),
    bars: z.int().min(1).max(1000).describe('Bars'),
    times: z.int().min(1).max(64).describe('Times more'),
  }),
  describe: (p) =>
    `repeat ${p.bars === 1 ? `bar ${p.fromBar}` : `bars ${p.fromBar}–${p.fromBar + p.bars - 1}`} ${p.times === 1 ? 'once more' : `${p.times} times more`}`,
  apply({ piece, params, maps }) {
    const { score } = piece;
    const from = maps.bars.barStart(params.fromBar - 1);
    const to = maps.bars.barStart(params.fromBar - 1 + params.bars);
    const length = to - from;
    if (from >= endTickOf(score)) return { refused: `The piece has no bar ${params.fromBar}.` };
    const grown = length * params.times;
    if (endTickOf(score) + grown > LATEST_TICK)
      return { refused: 'The end would pass the latest tick that a file can hold.' };
    const inside = (tick: number) => tick >= from && tick < to;
    const moved = (tick: number) => (tick >= to ? tick + grown : tick);
    let id = nextId(piece);
    let added = 0;
    const again = <T extends { tick: number }>(list: readonly T[]): T[] => {
      const here = list.filter((e) => inside(e.tick));
      const copies = Array.from({ length: params.times }, (_, k) =>
        here.map((e) => ({ ...e, tick: e.tick + length * (k + 1), order: 0 })),
      ).flat();
      const all = [...list.map((e) => ({ ...e, tick: moved(e.tick) })), ...copies];
      return all.sort((a, b) => a.tick - b.tick);
    };
    const parts = score.parts.map((part) => {
      const here = notesWhere(part.notes, (i) => inside(part.notes.start[i]!));
      const stretch = notesUntil(pickNotes(part.notes, here), to);
      const rest = {
        ...part.notes,
        start: part.notes.start.map(moved),
        end: part.notes.end.map((t, i) =>
          part.notes.start[i]! >= to ? t + grown : Math.min(t, Math.max(to, part.notes.start[i]!)),
        ),
      };
      const copies = Array.from({ length: params.times }, (_, k): NoteColumns => {
        const by = length * (k + 1);
        const ids = stretch.id.map(() => id++);
        added += stretch.count;
        return {
          ...stretch,
          start: stretch.start.map((t) => t + by),
          end: stretch.end.map((t) => t + by),
          onOrder: new Uint32Array(stretch.count),
          offOrder: new Uint32Array(stretch.count),
          id: ids,
        };
      });
      const events = eventsWhere(part.events, inside);
      const eventCopies = Array.from({ length: params.times }, (_, k) => ({
        ...events,
        tick: events.tick.map((t) => t + length * (k + 1)),
        order: new Uint32Array(events.count),
      }));
      return {
        ...part,
        notes: joinNotes([rest, ...copies]),
        events: joinEvents([{ ...part.events, tick: part.events.tick.map(moved) }, ...eventCopies]),
      };
    });
    const { conductor } = score;
    const next = withScore(piece, {
      parts,
      conductor: {
        tempos: again(conductor.tempos),
        meters: again(conductor.meters),
        keys: again(conductor.keys),
        markers: again(conductor.markers),
      },
      tracks: score.tracks.map((t) => ({
        ...t,
        endTick: t.endTick >= to ? t.endTick + grown : t.endTick,
        events: t.events.map((e) => ({ ...e, tick: moved(e.tick) })),
      })),
    });
    return done(next, { added });
  },
});

export const loop = defineStep({
  id: 'loop',
  title: 'Loop from here',
  summary: 'Sets the one marker where the loop begins; other markers of that name go.',
  params: z.strictObject({
    label: z.string().min(1).max(60).describe('The marker that the target looks for'),
    bar: z.int().min(1).describe('Bar, from 1'),
  }),
  describe: (p) => `loop from bar ${p.bar} (marker ${p.label})`,
  apply({ piece, params, maps }) {
    const tick = maps.bars.barStart(params.bar - 1);
    if (tick >= deliveredEnd(piece)) return { refused: `The piece has no bar ${params.bar}.` };
    const { conductor } = piece.score;
    const others = conductor.markers.filter((m) => m.text !== params.label);
    const mark: Marker = {
      tick,
      track: 0,
      order: 0,
      text: params.label,
      encoding: 'utf-8',
      bytes: encodeUtf8(params.label),
    };
    const markers = [...others, mark].sort((a, b) => a.tick - b.tick);
    return done(withScore(piece, { conductor: { ...conductor, markers } }), {
      events: 1 + conductor.markers.length - others.length,
      eventWords: 'markers set',
    });
  },
});

export const placeMarker = defineStep({
  id: 'place-marker',
  title: 'Place a marker',
  summary: 'Sets a marker at a bar; one that stands there already gets the new label.',
  params: z.strictObject({
    label: z.string().min(1).max(200).describe('Label'),
    bar: z.int().min(1).describe('Bar, from 1'),
    beat: z.int().min(1).max(64).optional().describe('Beat, from 1'),
  }),
  describe: (p) =>
    `marker “${p.label}” at bar ${p.bar}${p.beat === undefined ? '' : ` beat ${p.beat}`}`,
  apply({ piece, params, maps }) {
    const tick = maps.bars.tickOf(params.bar, params.beat ?? 1);
    if (tick > LATEST_TICK)
      return { refused: 'The bar would pass the latest tick that a file can hold.' };
    const { conductor } = piece.score;
    const mark: Marker = {
      tick,
      track: conductor.markers[0]?.track ?? 0,
      order: 0,
      text: params.label,
      encoding: 'utf-8',
      bytes: encodeUtf8(params.label),
    };
    const others = conductor.markers.filter((m) => m.tick !== tick);
    const markers = [...others, mark].sort((a, b) => a.tick - b.tick);
    return done(withScore(piece, { conductor: { ...conductor, markers } }), {
      events: 1,
      eventWords: 'marker set',
    });
  },
});

/** What a part sounds like where nothing was ever set: level 100, centre, full, no bend. */
const NEVER_SET: Readonly<Record<number, number>> = {
  0xb007: 100,
  0xb00a: 64,
  0xb00b: 127,
  0xb001: 0,
  0xb040: 0,
  0xb042: 0,
  0xe000: 64 * 128,
  0xc000: 0,
};

/** Level, program, bend and the like in force just before a tick; by kind and controller. */
export function stateAt(events: EventColumns, tick: number): Map<number, number> {
  const state = new Map<number, number>();
  for (let i = 0; i < events.count && events.tick[i]! < tick; i++) {
    const kind = events.kind[i]!;
    if (kind === 0xb0) {
      const slot = 0xb000 + events.data1[i]!;
      if (slot in NEVER_SET) state.set(slot, events.data2[i]!);
    } else if (kind === 0xc0) state.set(0xc000, events.data1[i]!);
    else if (kind === 0xe0) state.set(0xe000, events.data2[i]! * 128 + events.data1[i]!);
  }
  return state;
}

/** What differs between the end of a pass and the beginning of the next, by kind and controller. */
export function seamOf(events: EventColumns, fromTick: number, endTick: number) {
  // What is set at the very place where the loop begins is set again in every pass.
  const begins = stateAt(events, fromTick + 1);
  const ends = stateAt(events, endTick);
  const again = new Set<number>();
  for (let i = 0; i < events.count; i++) {
    if (events.tick[i] !== fromTick) continue;
    const kind = events.kind[i]!;
    again.add(kind === 0xb0 ? 0xb000 + events.data1[i]! : kind * 256);
  }
  const differs: { slot: number; first: number; later: number }[] = [];
  for (const [slot, later] of ends) {
    const first = begins.get(slot) ?? NEVER_SET[slot]!;
    if (first !== later && !again.has(slot)) differs.push({ slot, first, later });
  }
  return differs;
}

export const stateSeam = defineStep({
  id: 'state-seam',
  title: 'Say again at the seam',
  summary: 'Writes at the beginning of the loop what is in force there, where the end differs.',
  params: z.strictObject({ fromTick: z.int().min(0).describe('Where the loop begins, in ticks') }),
  describe: (p) => `say level, program and bend again at tick ${p.fromTick}`,
  apply(input) {
    const { params, piece } = input;
    const end = deliveredEnd(piece);
    let events = 0;
    const next = changeParts(input, (part) => {
      const differs = seamOf(part.events, params.fromTick, end);
      if (differs.length === 0) return part;
      const extra = newEvents(differs.length);
      differs.forEach(({ slot, first }, i) => {
        extra.tick[i] = params.fromTick;
        extra.kind[i] = slot >= 0xe000 ? 0xe0 : slot >= 0xc000 ? 0xc0 : 0xb0;
        extra.data1[i] = slot >= 0xe000 ? first % 128 : slot >= 0xc000 ? first : slot - 0xb000;
        extra.data2[i] = slot >= 0xe000 ? first >> 7 : slot >= 0xc000 ? 0 : first;
      });
      events += differs.length;
      return { ...part, events: joinEvents([part.events, extra]) };
    });
    return done(next, { events, eventWords: 'events written at the seam' });
  },
});
