import type { Damage, DamageCode } from '../diagnostic/damage';
import { DamageLog } from './damage-log';
import {
  bigEndian,
  META,
  META_END_OF_TRACK,
  MOST_EVENTS,
  MOST_TRACKS,
  type Chunk,
  type SmfFile,
  type SmfTrack,
} from './file';
import { LARGEST_FILE_BYTES } from './limits';
import { Columns, readEvents, type EventReading } from './read-events';

export interface SmfReading {
  /** Absent when nothing could be read. */
  readonly file?: SmfFile;
  readonly damage: readonly Damage[];
}

const NOTHING = new Uint8Array(0);
const MTHD = 0x4d546864;
const MTRK = 0x4d54726b;
/** How far a header is looked for behind stray bytes. */
const HEADER_SEARCH_BYTES = 65_536;

/**
 * Reads any bytes at all. What can be read is read; the rest is said as damage. Never throws, and
 * holds at most a fixed multiple of the input. `checkpoint` is called now and then with the bytes
 * done, and may throw to cancel.
 *
 * SMF 1.0, "Header Chunks" and "Track Chunks".
 */
export function readSmf(
  bytes: Uint8Array,
  checkpoint: (done: number, total: number) => void = () => {},
): SmfReading {
  const log = new DamageLog();
  if (bytes.length === 0) return fail(log, 'empty-file', 0);
  if (bytes.length > LARGEST_FILE_BYTES)
    return fail(log, 'file-too-large', 0, bytes.length, LARGEST_FILE_BYTES);
  const start = findHeader(bytes);
  if (start < 0) return fail(log, 'not-midi', 0);
  const wrapped = isRiff(bytes);
  if (start > 0 && !wrapped) log.add('leading-bytes', 0, null, start);
  if (bytes.length < start + 14) return fail(log, 'header-cut', bytes.length);

  const headerLength = bigEndian(bytes, start + 4, 4);
  const format = bigEndian(bytes, start + 8, 2);
  const declaredTracks = bigEndian(bytes, start + 10, 2);
  const division = bigEndian(bytes, start + 12, 2);
  let at = start + 14;
  let headerExtra: Uint8Array = NOTHING;
  if (headerLength !== 6) {
    log.add('header-length', start + 4, null, headerLength);
    const end = start + 8 + headerLength;
    if (headerLength > 6 && end <= bytes.length) {
      headerExtra = bytes.subarray(at, end);
      at = end;
    }
  }
  if (format > 2) log.add('format-unknown', start + 8, null, format);
  checkDivision(division, start + 12, log);

  // A RIFF wrapper says how long the SMF inside is; what follows is the wrapper's own.
  const stop = wrapped ? riffEnd(bytes, start) : bytes.length;
  const columns = new Columns(bytes.length);
  const tracks: SmfTrack[] = [];
  const chunks: Chunk[] = [];
  let events = 0;
  while (at + 8 <= stop && looksLikeChunk(bytes, at)) {
    const type = bigEndian(bytes, at, 4);
    const length = bigEndian(bytes, at + 4, 4);
    const body = at + 8;
    if (type === MTRK) {
      const read = readTrack(bytes, body, length, stop, tracks.length, log, columns);
      events += read.track.count;
      if (events > MOST_EVENTS) return fail(log, 'too-many-events', at, events, MOST_EVENTS);
      if (tracks.length === MOST_TRACKS)
        return fail(log, 'too-many-tracks', at, tracks.length + 1, MOST_TRACKS);
      chunks.push({ kind: 'track', track: tracks.length });
      tracks.push(read.track);
      at = read.next;
      checkpoint(at, bytes.length);
    } else {
      const end = body + length;
      // An unknown chunk that does not fit is no chunk: its bytes are kept as trailing ones.
      if (end > stop) break;
      const name = String.fromCharCode(...bytes.subarray(at, at + 4));
      chunks.push({ kind: 'other', type: name, bytes: bytes.subarray(body, end) });
      at = end;
    }
  }
  if (stop > at) log.add('trailing-bytes', at, null, stop - at);
  if (tracks.length !== declaredTracks)
    log.add('track-count', start + 10, null, tracks.length, declaredTracks);
  if (format === 0 && tracks.length > 1) log.add('format-0-tracks', start + 8, null, tracks.length);
  return {
    file: {
      format,
      division,
      declaredTracks,
      headerExtra,
      tracks,
      chunks,
      before: bytes.subarray(0, start),
      after: bytes.subarray(at),
    },
    damage: log.list,
  };
}

function fail(log: DamageLog, code: DamageCode, offset: number, value?: number, limit?: number) {
  log.add(code, offset, null, value, limit);
  return { damage: log.list };
}

const isRiff = (bytes: Uint8Array) =>
  bytes.length >= 20 &&
  bigEndian(bytes, 0, 4) === 0x52494646 && // "RIFF"
  bigEndian(bytes, 8, 4) === 0x524d4944; // "RMID"

/** RIFF lengths are little-endian; the length of the data chunk stands right before MThd. */
function riffEnd(bytes: Uint8Array, start: number): number {
  if (start < 20 || bigEndian(bytes, start - 8, 4) !== 0x64617461) return bytes.length;
  const length =
    bytes[start - 4]! +
    bytes[start - 3]! * 0x100 +
    bytes[start - 2]! * 0x10000 +
    bytes[start - 1]! * 0x1000000;
  return Math.min(bytes.length, start + length);
}

function findHeader(bytes: Uint8Array): number {
  const last = Math.min(bytes.length - 4, HEADER_SEARCH_BYTES);
  for (let at = 0; at <= last; at++) {
    if (bytes[at] === 0x4d && bigEndian(bytes, at, 4) === MTHD) return at;
  }
  return -1;
}

function looksLikeChunk(bytes: Uint8Array, at: number): boolean {
  for (let i = 0; i < 4; i++) {
    const byte = bytes[at + i]!;
    if (byte < 0x20 || byte > 0x7e) return false;
  }
  return true;
}

function checkDivision(word: number, offset: number, log: DamageLog) {
  if (word === 0 || (word >= 0x8000 && (word & 0xff) === 0)) log.add('ppq-zero', offset, null);
  else if (word >= 0x8000) {
    const rate = 256 - (word >> 8);
    if (rate !== 24 && rate !== 25 && rate !== 29 && rate !== 30)
      log.add('smpte-rate', offset, null, rate);
  }
}

/** Reads one track by its declared length; where its events disagree with it, by the events. */
function readTrack(
  bytes: Uint8Array,
  body: number,
  length: number,
  stop: number,
  index: number,
  log: DamageLog,
  columns: Columns,
): { track: SmfTrack; next: number } {
  const declaredEnd = body + length;
  const cut = declaredEnd > stop;
  const limit = Math.min(declaredEnd, stop);
  const own = new DamageLog();
  let read = readEvents(bytes, body, limit, index, own, columns);
  const done = (end: number, tailEnd: number) =>
    finish(bytes, read, end, tailEnd, index, log, columns);

  if (!read.ended && !cut && limit < stop && !chunkOrEnd(bytes, limit, stop)) {
    // Too short a length: no end-of-track inside it and no chunk behind it.
    const wider = nextTrackChunk(bytes, body, stop);
    const trial = new DamageLog();
    const longer = readEvents(bytes, body, wider, index, trial, columns);
    if (longer.ended || wider < stop) {
      log.take(trial);
      log.add('chunk-length', body - 4, index, longer.at - body, length);
      read = longer;
      return { track: done(read.at, longer.at), next: longer.at };
    }
    // The trial was no better and has written over the first reading.
    read = readEvents(bytes, body, limit, index, new DamageLog(), columns);
  }
  log.take(own);
  // Too long a length swallows the next chunk: its head stands right behind the end-of-track.
  if (read.ended && limit - read.at >= 8 && bigEndian(bytes, read.at, 4) === MTRK) {
    log.add('chunk-length', body - 4, index, read.at - body, length);
    return { track: done(read.at, read.at), next: read.at };
  }
  if (cut) {
    if (read.ended && read.at === limit)
      log.add('chunk-length', body - 4, index, read.at - body, length);
    else log.add('truncated', limit, index);
  }
  if (read.ended && read.at < limit) log.add('bytes-after-end', read.at, index, limit - read.at);
  return { track: done(limit, limit), next: limit };
}

const chunkOrEnd = (bytes: Uint8Array, at: number, stop: number) =>
  at + 8 > stop ? at === stop : looksLikeChunk(bytes, at);

function nextTrackChunk(bytes: Uint8Array, from: number, stop: number): number {
  for (let at = from; at + 8 <= stop; at++) {
    if (bytes[at] === 0x4d && bigEndian(bytes, at, 4) === MTRK) return at;
  }
  return stop;
}

function finish(
  bytes: Uint8Array,
  read: EventReading,
  end: number,
  tailEnd: number,
  index: number,
  log: DamageLog,
  columns: Columns,
): SmfTrack {
  const from = columns.used;
  let to = from + read.count;
  if (!read.ended) {
    log.add('end-of-track-missing', read.at, index);
    columns.tick[to] = read.lastTick;
    columns.status[to] = META;
    columns.data1[to] = META_END_OF_TRACK;
    columns.data2[to] = 0;
    columns.offset[to] = end;
    columns.encoding[to] = 0;
    to++;
  }
  columns.used = to;
  return {
    count: to - from,
    tick: columns.tick.subarray(from, to),
    status: columns.status.subarray(from, to),
    data1: columns.data1.subarray(from, to),
    data2: columns.data2.subarray(from, to),
    offset: columns.offset.subarray(from, to),
    encoding: columns.encoding.subarray(from, to),
    bytes,
    end,
    tail: read.ended ? bytes.subarray(read.at, Math.max(read.at, tailEnd)) : NOTHING,
    endWritten: read.ended,
  };
}
