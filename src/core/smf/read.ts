import type { Damage, DamageCode } from '../diagnostic/damage';
import {
  bigEndian,
  LARGEST_FILE_BYTES,
  LATEST_TICK,
  META,
  META_END_OF_TRACK,
  META_METER,
  META_TEMPO,
  MOST_EVENTS,
  MOST_TRACKS,
  type Chunk,
  type SmfFile,
  type SmfTrack,
} from './file';

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
/** A number with more bytes than this is taken to have no end. */
const LONGEST_NUMBER_BYTES = 16;

class DamageLog {
  readonly list: Damage[] = [];
  add(code: DamageCode, byteOffset: number, track: number | null, value?: number, limit?: number) {
    const last = this.list.findLast((d) => d.track === track);
    if (last?.code === code && track !== null && code !== 'chunk-length') {
      this.list[this.list.indexOf(last)] = { ...last, times: last.times + 1 };
      return;
    }
    this.list.push({
      code,
      byteOffset,
      track,
      times: 1,
      ...(value === undefined ? {} : { value }),
      ...(limit === undefined ? {} : { limit }),
    });
  }
}

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
  const mark = log.list.length;
  let read = readEvents(bytes, body, limit, index, log, columns);
  const done = (end: number, tailEnd: number) =>
    finish(bytes, read, end, tailEnd, index, log, columns);

  if (!read.ended && !cut && limit < stop && !chunkOrEnd(bytes, limit, stop)) {
    // Too short a length: no end-of-track inside it and no chunk behind it.
    const wider = nextTrackChunk(bytes, body, stop);
    const trial = new DamageLog();
    const longer = readEvents(bytes, body, wider, index, trial, columns);
    if (longer.ended || wider < stop) {
      log.list.length = mark;
      log.list.push(...trial.list);
      log.add('chunk-length', body - 4, index, longer.at - body, length);
      read = longer;
      return { track: done(read.at, longer.at), next: longer.at };
    }
    // The trial was no better and has written over the first reading.
    read = readEvents(bytes, body, limit, index, new DamageLog(), columns);
  }
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

interface EventReading {
  count: number;
  /** Where reading stopped. */
  at: number;
  /** Whether an end-of-track was met. */
  ended: boolean;
  lastTick: number;
}

/**
 * The events of all tracks, one behind the other: a track is a view of its stretch. An event takes
 * two bytes at least, so that one that is read has room; memory that is not written costs nothing.
 */
class Columns {
  /** Events of the tracks that are done. */
  used = 0;
  readonly tick: Int32Array;
  readonly status: Uint8Array;
  readonly data1: Uint8Array;
  readonly data2: Uint8Array;
  readonly offset: Uint32Array;
  readonly encoding: Uint8Array;
  constructor(bytes: number) {
    const size = Math.min(Math.ceil(bytes / 2), MOST_EVENTS) + 64;
    this.tick = new Int32Array(size);
    this.status = new Uint8Array(size);
    this.data1 = new Uint8Array(size);
    this.data2 = new Uint8Array(size);
    this.offset = new Uint32Array(size);
    this.encoding = new Uint8Array(size);
  }
}

/** Where a run of plain events stands. */
interface Run {
  at: number;
  slot: number;
  tick: number;
  /** Running status; 0 where there is none. */
  status: number;
}

/**
 * The hot loop: what nearly all events are, a short delta and a channel message with sound data
 * bytes. Stops before anything else. `roomy` leaves room for the longest of these.
 */
function plainRun(bytes: Uint8Array, roomy: number, columns: Columns, run: Run): void {
  const { tick: ticks, status: statuses, data1: firsts, data2: seconds } = columns;
  const { offset: offsets, encoding: encodings } = columns;
  const most = Math.min(MOST_EVENTS, ticks.length - 1);
  let { at, slot, tick, status } = run;
  while (at < roomy && slot <= most) {
    let next = at + 1;
    let wait = bytes[at]!;
    let how = 1;
    if (wait >= 0x80) {
      const low = bytes[next]!;
      if (low >= 0x80) break;
      wait = ((wait & 0x7f) << 7) | low;
      how = 2;
      next++;
    }
    const begins = next;
    let event = bytes[next]!;
    if (event >= 0x80) {
      if (event >= 0xf0) break;
      next++;
    } else {
      if (status === 0) break;
      event = status;
      how |= 8;
    }
    const data1 = bytes[next++]!;
    let data2 = 0;
    if (event < 0xc0 || event >= 0xe0) data2 = bytes[next++]!;
    if ((data1 | data2) > 127 || tick + wait > LATEST_TICK) break;
    tick += wait;
    ticks[slot] = tick;
    statuses[slot] = event;
    firsts[slot] = data1;
    seconds[slot] = data2;
    offsets[slot] = begins;
    encodings[slot] = how;
    slot++;
    status = event;
    at = next;
  }
  run.at = at;
  run.slot = slot;
  run.tick = tick;
  run.status = status;
}

/**
 * Events from `body` to `limit`, stopping behind end-of-track.
 * SMF 1.0, "Track Chunks": <delta-time> <event>, with running status for channel messages.
 */
function readEvents(
  bytes: Uint8Array,
  body: number,
  limit: number,
  index: number,
  log: DamageLog,
  columns: Columns,
): EventReading {
  const { tick: ticks, status: statuses, data1: firsts, data2: seconds } = columns;
  const { offset: offsets, encoding: encodings } = columns;
  const base = columns.used;
  let slot = base;
  let tick = 0;
  let running = 0;
  let cancelled = false;
  let overflowed = false;
  let ended = false;
  let at = body;
  const roomy = limit - 8;
  const run: Run = { at, slot, tick, status: 0 };

  scan: while (at < limit) {
    if (slot > MOST_EVENTS) break;
    if (!cancelled && at < roomy) {
      run.at = at;
      run.slot = slot;
      run.tick = tick;
      run.status = running;
      plainRun(bytes, roomy, columns, run);
      ({ at, slot, tick, status: running } = run);
    }
    if (at >= limit) break;

    // Delta time.
    const deltaAt = at;
    let byte = bytes[at++]!;
    let delta = byte & 0x7f;
    while (byte >= 0x80) {
      if (at >= limit) {
        log.add('event-cut', deltaAt, index);
        break scan;
      }
      if (at - deltaAt >= LONGEST_NUMBER_BYTES) {
        log.add('number-endless', deltaAt, index);
        at = limit;
        break scan;
      }
      byte = bytes[at++]!;
      delta = Math.min(delta * 128 + (byte & 0x7f), 2 ** 40);
    }
    let width = at - deltaAt;
    if (width > 4) {
      log.add('number-too-long', deltaAt, index);
      width = 0;
    }
    tick += delta;
    if (tick > LATEST_TICK) {
      tick = LATEST_TICK;
      if (!overflowed) log.add('tick-overflow', deltaAt, index, undefined, LATEST_TICK);
      overflowed = true;
    }
    if (at >= limit) {
      log.add('event-cut', deltaAt, index);
      break scan;
    }

    // Event.
    const eventAt = at;
    let status = bytes[at]!;
    let encoding = width;
    if (status >= 0x80) at++;
    else {
      if (running === 0) {
        log.add('running-status-missing', eventAt, index);
        while (at < limit && bytes[at]! < 0x80) at++;
        // The next status has no delta of its own left: it is taken as standing at this tick.
        if (at >= limit) break scan;
        status = bytes[at++]!;
      } else {
        status = running;
        encoding |= 8;
        if (cancelled) {
          log.add('running-status-cancelled', eventAt, index);
          // Writing it so again would keep the fault: the status is written out.
          encoding &= ~8;
        }
      }
    }

    let first = 0;
    let second = 0;
    if (status < 0xf0) {
      const needed = status >= 0xc0 && status < 0xe0 ? 1 : 2;
      if (at + needed > limit) {
        log.add('event-cut', eventAt, index);
        at = limit;
        break scan;
      }
      first = bytes[at++]!;
      if (first > 127) first = badData(log, at - 1, index, first);
      if (needed === 2) {
        second = bytes[at++]!;
        if (second > 127) second = badData(log, at - 1, index, second);
      }
      running = status;
      cancelled = false;
    } else if (status === META || status === 0xf0 || status === 0xf7) {
      if (status === META) {
        if (at >= limit) {
          log.add('event-cut', eventAt, index);
          break scan;
        }
        first = bytes[at++]!;
      }
      const lengthAt = at;
      let length = 0;
      let more = true;
      while (more) {
        if (at >= limit || at - lengthAt >= LONGEST_NUMBER_BYTES) {
          log.add(at >= limit ? 'event-cut' : 'number-endless', eventAt, index);
          at = limit;
          break scan;
        }
        const part = bytes[at++]!;
        length = Math.min(length * 128 + (part & 0x7f), 2 ** 40);
        more = part >= 0x80;
      }
      const lengthWidth = at - lengthAt;
      if (lengthWidth > 4) log.add('number-too-long', lengthAt, index);
      else encoding |= lengthWidth << 4;
      if (at + length > limit) {
        log.add('event-cut', eventAt, index);
        length = limit - at;
        encoding &= 0xf;
      }
      if (status === META) checkMeta(bytes, first, at, length, eventAt, index, log);
      at += length;
      if (running !== 0) cancelled = true;
    } else {
      // F1–F6 and F8–FE belong on a wire, not in a file. MIDI 1.0, "System Messages".
      log.add('system-byte', eventAt, index, status);
      const follow = status === 0xf2 ? 2 : status === 0xf1 || status === 0xf3 ? 1 : 0;
      for (let i = 0; i < follow && at < limit && bytes[at]! < 0x80; i++) at++;
      continue;
    }

    ticks[slot] = tick;
    statuses[slot] = status;
    firsts[slot] = first;
    seconds[slot] = second;
    offsets[slot] = eventAt;
    encodings[slot] = encoding;
    slot++;
    if (status === META && first === META_END_OF_TRACK) {
      ended = true;
      break;
    }
  }
  return { count: slot - base, at, ended, lastTick: tick };
}

function badData(log: DamageLog, at: number, track: number, value: number): number {
  log.add('data-byte', at, track, value);
  return 127;
}

function checkMeta(
  bytes: Uint8Array,
  type: number,
  at: number,
  length: number,
  eventAt: number,
  track: number,
  log: DamageLog,
) {
  if (type === META_TEMPO) {
    if (length !== 3) log.add('tempo-length', eventAt, track, length);
    else if (bigEndian(bytes, at, 3) === 0) log.add('tempo-zero', eventAt, track);
  } else if (type === META_METER) {
    if (length < 2 || bytes[at] === 0 || bytes[at + 1]! > 7)
      log.add('meter-invalid', eventAt, track);
  }
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
