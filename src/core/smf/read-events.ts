import type { DamageLog } from './damage-log';
import {
  bigEndian,
  LATEST_TICK,
  META,
  META_END_OF_TRACK,
  META_METER,
  META_TEMPO,
  MOST_EVENTS,
} from './file';

/** A number with more bytes than this is taken to have no end. */
const LONGEST_NUMBER_BYTES = 16;

export interface EventReading {
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
export class Columns {
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
export function readEvents(
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

/** Notes what is wrong with a tempo or meter event. */
export function checkMeta(
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
