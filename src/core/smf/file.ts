/**
 * A Standard MIDI File as data. Events stand in columns, one track at a time; the bytes of meta and
 * sysex events stay where they are and are reached by offset.
 */
export interface SmfTrack {
  readonly count: number;
  /** Absolute tick of each event, at most 2³¹−1. */
  readonly tick: Int32Array;
  /** Status byte with running status expanded; 0xFF meta, 0xF0 and 0xF7 sysex. */
  readonly status: Uint8Array;
  /** First data byte; the type of a meta event; 0 for sysex. */
  readonly data1: Uint8Array;
  readonly data2: Uint8Array;
  /** Where the event begins, behind its delta time, in `bytes`. */
  readonly offset: Uint32Array;
  /**
   * How the original wrote it, so that writing returns the same bytes. Bits 0–2: width of the delta
   * (0 = shortest); bit 3: running status; bits 4–6: width of a meta or sysex length (0 = shortest).
   */
  readonly encoding: Uint8Array;
  readonly bytes: Uint8Array;
  /** Payloads end here at the latest. */
  readonly end: number;
  /** What stands in the chunk behind end-of-track. */
  readonly tail: Uint8Array;
  /** False where end-of-track was missing and has been added. */
  readonly endWritten: boolean;
}

export type Chunk =
  | { readonly kind: 'track'; readonly track: number }
  | { readonly kind: 'other'; readonly type: string; readonly bytes: Uint8Array };

export interface SmfFile {
  /** As the header gives it; more than 2 is damage. */
  readonly format: number;
  /** The division word, unsigned 16 bits: PPQ, or with bit 15 set SMPTE. */
  readonly division: number;
  readonly declaredTracks: number;
  /** Header bytes beyond the six of the standard. */
  readonly headerExtra: Uint8Array;
  readonly tracks: readonly SmfTrack[];
  /** Track and other chunks in the order of the file. */
  readonly chunks: readonly Chunk[];
  /** What stands before MThd (a RIFF wrapper's head, stray bytes) and behind the last chunk. */
  readonly before: Uint8Array;
  readonly after: Uint8Array;
}

/** What a file says of itself, without its events. */
export interface SmfHead {
  readonly format: number;
  readonly division: number;
  /** Track chunks found. */
  readonly tracks: number;
  /** Chunks that are neither header nor track. */
  readonly extraChunks: readonly { readonly type: string; readonly bytes: number }[];
  /** Format 2: what each sequence holds, and which of them is meant, from 0. */
  readonly sequences?: readonly SequenceHead[];
  readonly sequence?: number;
}

export interface SequenceHead {
  readonly name: string | null;
  readonly notes: number;
}

export const headOf = ({ format, division, tracks, chunks }: SmfFile): SmfHead => ({
  format,
  division,
  tracks: tracks.length,
  extraChunks: chunks.flatMap((c) =>
    c.kind === 'other' ? [{ type: c.type, bytes: c.bytes.length }] : [],
  ),
});

export const META = 0xff;
export const META_TEXT = 0x01;
export const META_COPYRIGHT = 0x02;
export const META_TRACK_NAME = 0x03;
export const META_INSTRUMENT = 0x04;
export const META_LYRIC = 0x05;
export const META_MARKER = 0x06;
export const META_CUE_POINT = 0x07;
export const META_END_OF_TRACK = 0x2f;
export const META_TEMPO = 0x51;
export const META_METER = 0x58;
export const META_KEY = 0x59;

export const LATEST_TICK = 2 ** 31 - 1;
/** SMF 1.0, "Some numbers…": a delta time ends at 0x0FFFFFFF, four bytes. */
export const LONGEST_WAIT = 2 ** 28 - 1;
export const MOST_EVENTS = 4_000_000;
/** The header gives the number of tracks in 16 bits. */
export const MOST_TRACKS = 65_535;

export type Division =
  | { readonly kind: 'ppq'; readonly ticksPerQuarter: number }
  | {
      readonly kind: 'smpte';
      /** 24, 25, 29 (29.97 drop) or 30. */
      readonly framesPerSecond: number;
      readonly ticksPerFrame: number;
    };

/** SMF 1.0, "Header Chunks": bit 15 clear = PPQ; set = negative SMPTE rate and ticks a frame. */
export function readDivision(word: number): Division {
  if (word < 0x8000) return { kind: 'ppq', ticksPerQuarter: word };
  return { kind: 'smpte', framesPerSecond: 256 - (word >> 8), ticksPerFrame: word & 0xff };
}

export const divisionWord = (division: Division): number =>
  division.kind === 'ppq'
    ? division.ticksPerQuarter
    : ((256 - division.framesPerSecond) << 8) | division.ticksPerFrame;

const NOTHING = new Uint8Array(0);

/** Where the bytes of a meta or sysex event begin, behind its length; and how many there are. */
export interface PayloadPlace {
  at: number;
  length: number;
}

/** Finds a payload without making a view of it; `place` is filled and given back. */
export function payloadPlace(track: SmfTrack, index: number, place: PayloadPlace): PayloadPlace {
  const { bytes, end } = track;
  let at = track.offset[index]! + (track.status[index] === META ? 2 : 1);
  let length = 0;
  while (at < end) {
    const byte = bytes[at++]!;
    length = length * 128 + (byte & 0x7f);
    if (byte < 0x80) break;
  }
  place.at = at;
  place.length = Math.max(0, Math.min(length, end - at));
  return place;
}

/** The bytes of a meta or sysex event behind its length, a view and not a copy. */
export function payload(track: SmfTrack, index: number): Uint8Array {
  if (track.status[index]! < 0xf0) return NOTHING;
  const { at, length } = payloadPlace(track, index, { at: 0, length: 0 });
  return track.bytes.subarray(at, at + length);
}

/** Big-endian number of `length` bytes. */
export function bigEndian(bytes: Uint8Array, at: number, length: number): number {
  let value = 0;
  for (let i = 0; i < length; i++) value = value * 256 + bytes[at + i]!;
  return value;
}
