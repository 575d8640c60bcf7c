import { joinEvents, notesWhere, pickEvents, pickNotes } from '../score/columns';
import { eventsOf, inForceAt, rowsBetween } from '../score/in-force';
import { setsUp } from '../score/map-ticks';
import type { Piece } from '../score/piece';
import {
  isIn,
  OFF_BY_NOTE_OFF,
  OFF_MISSING,
  ticksPerQuarterOf,
  type EventColumns,
  type NoteColumns,
} from '../score/score';
import { compose, cutAt } from '../time/time-map';

/** Notes that end by `tick`: those that begin later are gone, those that ring on are cut. */
export function notesUntil(notes: NoteColumns, tick: number): NoteColumns {
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

export const eventsWhere = (
  events: EventColumns,
  keep: (tick: number) => boolean,
): EventColumns => {
  const kept: number[] = [];
  for (let i = 0; i < events.count; i++) if (keep(events.tick[i]!)) kept.push(i);
  return kept.length === events.count ? events : pickEvents(events, kept);
};

/** Of a quarter, as a fraction: so much early is still on the beat; 42 ms at 120 a minute. */
const EARLY = 12;

export interface CutPiece {
  readonly piece: Piece;
  /** Ids of the notes that it took, as they were before. */
  readonly taken: ReadonlySet<number>;
  /** Notes that rang on and were cut. */
  readonly cut: number;
}

/** The stretch of a piece as a piece of its own, beginning at tick 0 with what is in force there. */
export function cutPiece(piece: Piece, fromTick: number, toTick: number): CutPiece {
  const { score } = piece;
  const length = toTick - fromTick;
  const inside = (tick: number) => tick >= fromTick && tick < toTick;
  const back = <T extends { tick: number }>(list: readonly T[]): T[] =>
    list.filter((e) => inside(e.tick)).map((e) => ({ ...e, tick: e.tick - fromTick }));
  const marks = <T extends { tick: number }>(list: readonly T[]): T[] => {
    const before = list.filter((e) => e.tick <= fromTick).at(-1);
    const later = back(list).filter((e) => e.tick > 0);
    return [...(before ? [{ ...before, tick: 0 }] : []), ...later];
  };
  // A hand that is a little early means the beat that comes: what rings mostly behind it is its own.
  const early = ticksPerQuarterOf(score.division) / EARLY;
  const meantAt = ({ start, end }: NoteColumns, i: number): number => {
    for (const edge of [fromTick, toTick]) {
      const before = edge - start[i]!;
      if (before > 0 && before <= early && end[i]! - edge > before) return edge;
    }
    return start[i]!;
  };
  const taken = new Set<number>();
  let cut = 0;
  const parts = score.parts.map((part) => {
    const here = notesWhere(part.notes, (i) => inside(meantAt(part.notes, i)));
    const picked = notesUntil(pickNotes(part.notes, here), toTick);
    for (const i of here) {
      if (!isIn(part)) continue;
      taken.add(part.notes.id[i]!);
      if (part.notes.end[i]! > toTick) cut++;
    }
    const earlier = (ticks: Int32Array) => ticks.map((t) => t - fromTick);
    const within = eventsWhere(part.events, inside);
    const state = rowsBetween(new Map(), inForceAt(part.events, fromTick));
    return {
      ...part,
      // What was struck a little early for the first beat stands on it.
      notes: {
        ...picked,
        start: earlier(picked.start).map((t) => Math.max(0, t)),
        end: earlier(picked.end),
      },
      events: joinEvents([eventsOf(state, 0), { ...within, tick: earlier(within.tick) }]),
    };
  });
  const { conductor } = score;
  const next: Piece = {
    ...piece,
    score: {
      ...score,
      conductor: {
        tempos: marks(conductor.tempos),
        meters: marks(conductor.meters),
        keys: marks(conductor.keys),
        markers: back(conductor.markers),
      },
      tracks: score.tracks.map((track) => ({
        ...track,
        endTick: length,
        events: track.events
          // What names and sets up a track stands in every file; words stand where they are sung.
          .filter((e) => inside(e.tick) || (e.tick === 0 && setsUp(e)))
          .map((e) => ({ ...e, tick: Math.max(0, e.tick - fromTick) })),
      })),
      parts,
    },
    ...(piece.captions ? { captions: back(piece.captions) } : {}),
    fromBase: compose(piece.fromBase, cutAt(fromTick)),
  };
  return { piece: next, taken, cut };
}
