import type { Division } from '../smf/file';
import { decodeText, type ReadText } from '../smf/text';
import { makeMeterMap, type MeterEvent, type MeterMap } from '../time/meter-map';
import type { TempoEvent } from '../time/tempo-map';

/** How a note ended in the source. */
export const OFF_BY_NOTE_OFF = 0;
export const OFF_BY_VELOCITY_0 = 1;
/** No note-off at all: it sounds until the end of its track. */
export const OFF_MISSING = 2;

/**
 * The notes of a part, sorted by start. Columns are never changed in place: a step makes new ones.
 * Orders are the place in the source's track, from 1; 0 = wherever the writer sees fit in its tick.
 */
export interface NoteColumns {
  readonly count: number;
  readonly start: Int32Array;
  /** Half-open: a note sounds in [start, end). */
  readonly end: Int32Array;
  readonly noteNumber: Uint8Array;
  readonly velocity: Uint8Array;
  readonly offKind: Uint8Array;
  readonly offVelocity: Uint8Array;
  readonly onOrder: Uint32Array;
  readonly offOrder: Uint32Array;
  /** Valid within one run; a note keeps it for as long as it is the same note. */
  readonly id: Uint32Array;
  /** Id of the source's note that it came from; 0 for notes added by hand. */
  readonly origin: Uint32Array;
}

/** Channel events that are no notes, and note-offs that close nothing; in tick order. */
export interface EventColumns {
  readonly count: number;
  readonly tick: Int32Array;
  /** Status without the channel: 0xA0, 0xB0, 0xC0, 0xD0, 0xE0; 0x80 and 0x90 for stray note-offs. */
  readonly kind: Uint8Array;
  readonly data1: Uint8Array;
  readonly data2: Uint8Array;
  readonly order: Uint32Array;
}

export type PartId = string;

/** How a stored plan names a part, so that it is found again in a newer export. */
export interface PartRef {
  readonly source: string;
  readonly track: string;
  readonly channel: number;
  /** Which of several with the same names, from 0. */
  readonly occurrence: number;
}

export interface Part {
  readonly id: PartId;
  readonly ref: PartRef;
  readonly name: string;
  /** Index into the score's tracks. */
  readonly track: number;
  /** The source's track whose order its events carry; −1 where they are of several or of none. */
  readonly sourceTrack: number;
  /** 1–16. */
  readonly channel: number;
  readonly notes: NoteColumns;
  readonly events: EventColumns;
  /** Left out of the delivery; still there to be seen. */
  readonly leftOut: boolean;
  /** The seat it takes at the target, by id. */
  readonly seat: string | null;
  /** True where the user chose, so that default seating keeps its hands off. */
  readonly seatChosen: boolean;
}

/** A meta or sysex event that belongs to a track and not to a channel. */
export interface TrackEvent {
  readonly tick: number;
  /** 0xFF, 0xF0 or 0xF7. */
  readonly status: number;
  readonly type: number;
  readonly bytes: Uint8Array;
  readonly order: number;
  /** Of a text event: what it says, as far as can be guessed. */
  readonly read?: ReadText;
}

/** What a text event says, by the reading that was chosen for it. */
export const textOf = (e: Pick<TrackEvent, 'bytes' | 'read'>): string => readTextOf(e).text;

export const readTextOf = ({ bytes, read }: Pick<TrackEvent, 'bytes' | 'read'>): ReadText =>
  read ?? decodeText(bytes);

export interface ScoreTrack {
  readonly name: string | null;
  readonly events: readonly TrackEvent[];
  readonly endTick: number;
  readonly endOrder: number;
  /** Key of its source where that does not rule: without a part that is heard it stays behind. */
  readonly follower?: string;
}

interface OnTrack {
  readonly track: number;
  readonly order: number;
}
export interface TempoMark extends TempoEvent, OnTrack {}
export interface MeterMark extends MeterEvent, OnTrack {
  /** The last two bytes of the meta event: clocks a click, 32nds a quarter. */
  readonly rest: Uint8Array;
}
export interface KeyMark extends OnTrack {
  readonly tick: number;
  readonly bytes: Uint8Array;
}
export interface Marker extends OnTrack {
  readonly tick: number;
  readonly text: string;
  readonly encoding?: ReadText['encoding'];
  readonly bytes: Uint8Array;
}

/** What conducts all parts; each list in tick order. */
export interface Conductor {
  readonly tempos: readonly TempoMark[];
  readonly meters: readonly MeterMark[];
  readonly keys: readonly KeyMark[];
  readonly markers: readonly Marker[];
}

export interface Score {
  readonly division: Division;
  readonly conductor: Conductor;
  readonly tracks: readonly ScoreTrack[];
  readonly parts: readonly Part[];
  /** The highest note id that was ever given here: a deleted id is never given again. */
  readonly lastId: number;
}

export const NO_EVENTS: EventColumns = {
  count: 0,
  tick: new Int32Array(0),
  kind: new Uint8Array(0),
  data1: new Uint8Array(0),
  data2: new Uint8Array(0),
  order: new Uint32Array(0),
};

export const isIn = (part: Part): boolean => !part.leftOut;

/** The last tick at which anything stands: events, note ends and ends of tracks. */
export function endTickOf(score: Score): number {
  let end = 0;
  for (const track of score.tracks) end = Math.max(end, track.endTick);
  for (const part of score.parts) {
    const { end: ends, count } = part.notes;
    for (let i = 0; i < count; i++) if (ends[i]! > end) end = ends[i]!;
  }
  return end;
}

/** Where the first note stands that is not left out; null where there is none. */
export function firstTickOf(score: Score): number | null {
  let first = Infinity;
  for (const { leftOut, notes } of score.parts)
    if (!leftOut && notes.count > 0 && notes.start[0]! < first) first = notes.start[0]!;
  return first === Infinity ? null : first;
}

/** Ticks a quarter note; under SMPTE those of a nominal half second, so that maps have a grid. */
export const ticksPerQuarterOf = (division: Division): number =>
  division.kind === 'ppq'
    ? division.ticksPerQuarter
    : Math.max(1, Math.round((division.framesPerSecond * division.ticksPerFrame) / 2));

/**
 * The bars of a piece. Under SMPTE there are none: a nominal quarter lasts half a second, so that a
 * bar of 2/4 is one second, and the sheet's rows are seconds.
 */
export const makeBars = (division: Division, meters: readonly MeterEvent[]): MeterMap =>
  makeMeterMap(
    ticksPerQuarterOf(division),
    division.kind === 'ppq' ? meters : [{ tick: 0, numerator: 2, denominator: 4 }],
  );
