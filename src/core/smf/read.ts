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
  const tracks: SmfTrack[] = [];
  const chunks: Chunk[] = [];
  let events = 0;
  while (at + 8 <= stop && looksLikeChunk(bytes, at)) {
    const type = bigEndian(bytes, at, 4);
    const length = bigEndian(bytes, at + 4, 4);
    const body = at + 8;
    if (type === MTRK) {
      const read = readTrack(bytes, body, length, stop, tracks.length, log);
      events += read.track.count;
      if (events > MOST_EVENTS) return fail(log, 'too-many-events', at, events, MOST_EVENTS);
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
): { track: SmfTrack; next: number } {
  const declaredEnd = body + length;
  const cut = declaredEnd > stop;
  const limit = Math.min(declaredEnd, stop);
  const mark = log.list.length;
  let read = readEvents(bytes, body, limit, index, log);

  if (!read.ended && !cut && limit < stop && !chunkOrEnd(bytes, limit, stop)) {
    // Too short a length: no end-of-track inside it and no chunk behind it.
    const wider = nextTrackChunk(bytes, body, stop);
    const trial = new DamageLog();
    const longer = readEvents(bytes, body, wider, index, trial);
    if (longer.ended || wider < stop) {
      log.list.length = mark;
      log.list.push(...trial.list);
      log.add('chunk-length', body - 4, index, longer.at - body, length);
      read = longer;
      return { track: finish(bytes, read, read.at, longer.at, index, log), next: longer.at };
    }
  }
  // Too long a length swallows the next chunk: its head stands right behind the end-of-track.
  if (read.ended && limit - read.at >= 8 && bigEndian(bytes, read.at, 4) === MTRK) {
    log.add('chunk-length', body - 4, index, read.at - body, length);
    return { track: finish(bytes, read, read.at, read.at, index, log), next: read.at };
  }
  if (cut) {
    if (read.ended && read.at === limit)
      log.add('chunk-length', body - 4, index, read.at - body, length);
    else log.add('truncated', limit, index);
  }
  if (read.ended && read.at < limit) log.add('bytes-after-end', read.at, index, limit - read.at);
  return { track: finish(bytes, read, limit, limit, index, log), next: limit };
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
  columns: Columns;
  count: number;
  /** Where reading stopped. */
  at: number;
  /** Whether an end-of-track was met. */
  ended: boolean;
  lastTick: number;
}

interface Columns {
  tick: Int32Array;
  status: Uint8Array;
  data1: Uint8Array;
  data2: Uint8Array;
  offset: Uint32Array;
  encoding: Uint8Array;
}

const makeColumns = (size: number): Columns => ({
  tick: new Int32Array(size),
  status: new Uint8Array(size),
  data1: new Uint8Array(size),
  data2: new Uint8Array(size),
  offset: new Uint32Array(size),
  encoding: new Uint8Array(size),
});

function resize(from: Columns, size: number): Columns {
  const to = makeColumns(size);
  for (const key of Object.keys(to) as (keyof Columns)[])
    to[key].set(size < from[key].length ? from[key].subarray(0, size) : from[key]);
  return to;
}

/**
 * The one hot loop of reading: events from `body` to `limit`, stopping behind end-of-track.
 * SMF 1.0, "Track Chunks": <delta-time> <event>, with running status for channel messages.
 */
function readEvents(
  bytes: Uint8Array,
  body: number,
  limit: number,
  index: number,
  log: DamageLog,
): EventReading {
  // A note takes 3 to 4 bytes an event as most programs write it; grown where it is denser.
  let capacity = Math.min(Math.ceil((limit - body) / 3.5) + 16, MOST_EVENTS + 2);
  let columns = makeColumns(capacity);
  let { tick: ticks, status: statuses, data1: firsts, data2: seconds } = columns;
  let { offset: offsets, encoding: encodings } = columns;
  let count = 0;
  let tick = 0;
  let running = 0;
  let cancelled = false;
  let overflowed = false;
  let at = body;
  const result = (ended: boolean) => ({ columns, count, at, ended, lastTick: tick });

  while (at < limit) {
    if (count > MOST_EVENTS) return result(false);
    // Delta time.
    const deltaAt = at;
    let byte = bytes[at++]!;
    let delta = byte & 0x7f;
    while (byte >= 0x80) {
      if (at >= limit) {
        log.add('event-cut', deltaAt, index);
        return result(false);
      }
      if (at - deltaAt >= LONGEST_NUMBER_BYTES) {
        log.add('number-endless', deltaAt, index);
        at = limit;
        return result(false);
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
      return result(false);
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
        if (at >= limit) return result(false);
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
        return result(false);
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
          return result(false);
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
          return result(false);
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

    if (count === capacity) {
      capacity = Math.ceil(capacity * 1.6) + 64;
      columns = resize(columns, capacity);
      ({ tick: ticks, status: statuses, data1: firsts, data2: seconds } = columns);
      ({ offset: offsets, encoding: encodings } = columns);
    }
    ticks[count] = tick;
    statuses[count] = status;
    firsts[count] = first;
    seconds[count] = second;
    offsets[count] = eventAt;
    encodings[count] = encoding;
    count++;
    if (status === META && first === META_END_OF_TRACK) return result(true);
  }
  return result(false);
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
): SmfTrack {
  let { columns, count } = read;
  if (!read.ended) {
    log.add('end-of-track-missing', read.at, index);
    const grown = resize(columns, count + 1);
    grown.tick[count] = read.lastTick;
    grown.status[count] = META;
    grown.data1[count] = META_END_OF_TRACK;
    grown.offset[count] = end;
    columns = grown;
    count++;
  } else if (columns.tick.length > count * 1.2 + 16) columns = resize(columns, count);
  const used = (column: Uint8Array) => column.subarray(0, count);
  return {
    count,
    tick: columns.tick.subarray(0, count),
    status: used(columns.status),
    data1: used(columns.data1),
    data2: used(columns.data2),
    offset: columns.offset.subarray(0, count),
    encoding: used(columns.encoding),
    bytes,
    end,
    tail: read.ended ? bytes.subarray(read.at, Math.max(read.at, tailEnd)) : NOTHING,
    endWritten: read.ended,
  };
}
