import { checkMeta } from '../smf/read-events';
import { DamageLog } from '../smf/damage-log';
import {
  bigEndian,
  LATEST_TICK,
  META,
  META_END_OF_TRACK,
  META_METER,
  META_TEMPO,
  MOST_EVENTS,
  type SmfHead,
} from '../smf/file';
import { LARGEST_FILE_BYTES } from '../smf/limits';
import { newEvents, pickNotes } from './columns';
import { ScoreGathering, type ChannelContent, type ScoreOptions } from './from-file';
import { NoteRoom } from './note-room';
import { NO_EVENTS, OFF_BY_NOTE_OFF, OFF_BY_VELOCITY_0, OFF_MISSING, type Score } from './score';

const MTHD = 0x4d546864;
const MTRK = 0x4d54726b;

/**
 * Reads bytes straight into a score, where nothing at all is wrong with them; null at the first
 * oddity (damage, a wrapper, format 2), and then the tolerant way is gone from the start. Most files
 * are well formed, and one pass without the file's own form between takes less than half the time.
 * Both ways give the same score: a property test holds them together.
 */
export function readWellFormed(
  bytes: Uint8Array,
  options: ScoreOptions,
  checkpoint: (done: number, total: number) => void,
): { head: SmfHead; score: Score } | null {
  if (bytes.length < 14 || bytes.length > LARGEST_FILE_BYTES) return null;
  if (bigEndian(bytes, 0, 4) !== MTHD || bigEndian(bytes, 4, 4) !== 6) return null;
  const format = bigEndian(bytes, 8, 2);
  const declaredTracks = bigEndian(bytes, 10, 2);
  const division = bigEndian(bytes, 12, 2);
  if (format > 1 || (format === 0 && declaredTracks !== 1)) return null;
  if (division === 0 || division >= 0x8000) return null;

  const gather = new ScoreGathering(division, options);
  const reader = new TrackReader(bytes, gather);
  const extraChunks: { type: string; bytes: number }[] = [];
  let tracks = 0;
  let at = 14;
  while (at + 8 <= bytes.length) {
    const type = bigEndian(bytes, at, 4);
    const body = at + 8;
    const end = body + bigEndian(bytes, at + 4, 4);
    if (end > bytes.length) return null;
    if (type === MTRK) {
      if (!reader.read(body, end)) return null;
      tracks++;
      checkpoint(end, bytes.length);
    } else {
      const name = bytes.subarray(at, at + 4);
      if (name.some((byte) => byte < 0x20 || byte > 0x7e)) return null;
      extraChunks.push({ type: String.fromCharCode(...name), bytes: end - body });
    }
    at = end;
  }
  if (at !== bytes.length || tracks !== declaredTracks) return null;
  return { head: { format, division, tracks, extraChunks }, score: gather.score() };
}

/** Channel events that are no notes, of one track; used again for the next. */
class EventPile {
  count = 0;
  tick = new Int32Array(256);
  order = new Uint32Array(256);
  status = new Uint8Array(256);
  data1 = new Uint8Array(256);
  data2 = new Uint8Array(256);

  add(tick: number, order: number, status: number, data1: number, data2: number) {
    if (this.count === this.tick.length) this.grow();
    const i = this.count++;
    this.tick[i] = tick;
    this.order[i] = order;
    this.status[i] = status;
    this.data1[i] = data1;
    this.data2[i] = data2;
  }

  /** The events of each channel, by channel from 0. */
  byChannel(counts: Uint32Array) {
    const columns = Array.from(counts, (n) => (n === 0 ? null : newEvents(n)));
    const filled = new Uint32Array(16);
    for (let i = 0; i < this.count; i++) {
      const channel = this.status[i]! & 15;
      const to = columns[channel]!;
      const n = filled[channel]!++;
      to.tick[n] = this.tick[i]!;
      to.order[n] = this.order[i]!;
      to.kind[n] = this.status[i]! & 0xf0;
      to.data1[n] = this.data1[i]!;
      to.data2[n] = this.data2[i]!;
    }
    return columns;
  }

  private grow() {
    const size = this.count * 2;
    const wider = <T extends Int32Array | Uint32Array | Uint8Array>(from: T, to: T): T => {
      to.set(from);
      return to;
    };
    this.tick = wider(this.tick, new Int32Array(size));
    this.order = wider(this.order, new Uint32Array(size));
    this.status = wider(this.status, new Uint8Array(size));
    this.data1 = wider(this.data1, new Uint8Array(size));
    this.data2 = wider(this.data2, new Uint8Array(size));
  }
}

/** Reads one track after the other into one room of notes. */
class TrackReader {
  private readonly room: NoteRoom;
  /** Channel of each note of the track, from 0. */
  private readonly channelOf: Uint8Array;
  private readonly pile = new EventPile();
  private readonly log = new DamageLog();
  /** Of each channel × key, 1 + the sounding note that ends first and the one that began last. */
  private readonly first = new Int32Array(2048);
  private readonly last = new Int32Array(2048);
  private events = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly gather: ScoreGathering,
  ) {
    // A note takes six bytes, on and off; where more stand open, the tolerant way has room.
    const size = Math.min(Math.ceil(bytes.length / 6), MOST_EVENTS) + 64;
    this.room = new NoteRoom(size);
    this.channelOf = new Uint8Array(size);
  }

  /** The track whose events stand in [body, limit); false at the first oddity. */
  read(body: number, limit: number): boolean {
    const { bytes, gather, channelOf, pile, first, last, log } = this;
    const plain = gather.plainEvents(bytes);
    const notes = this.room.free();
    const { start, end, noteNumber, velocity, offKind, offVelocity, onOrder, offOrder } = notes;
    const room = notes.count;
    const ons = new Uint32Array(16);
    const others = new Uint32Array(16);
    first.fill(0);
    pile.count = 0;
    // 1 + the next sounding note of the same key; only where keys are struck again while they sound.
    let follows: Int32Array | null = null;
    let n = 0;
    let tick = 0;
    let order = 0;
    let running = 0;
    let at = body;
    let ended = false;
    while (at < limit) {
      let wait = bytes[at++]!;
      if (wait >= 0x80) {
        let byte = bytes[at++]!;
        wait = ((wait & 0x7f) << 7) | (byte & 0x7f);
        if (byte >= 0x80) {
          byte = bytes[at++]!;
          wait = (wait << 7) | (byte & 0x7f);
          if (byte >= 0x80) {
            byte = bytes[at++]!;
            if (byte >= 0x80) return false;
            wait = (wait << 7) | byte;
          }
        }
      }
      tick += wait;
      if (tick > LATEST_TICK) return false;
      order++;
      let status = bytes[at]!;
      if (status >= 0x80) at++;
      else status = running;

      if (status < 0xf0) {
        const kind = status & 0xf0;
        const data1 = bytes[at++]!;
        const data2 = kind === 0xc0 || kind === 0xd0 ? 0 : bytes[at++]!;
        // No running status to go on with leaves `status` 0.
        if (status === 0 || (data1 | data2) > 127) return false;
        running = status;
        if (kind <= 0x90) {
          const key = ((status & 15) << 7) | data1;
          const open = first[key]!;
          if (kind === 0x90 && data2 > 0) {
            if (n === room) return false;
            start[n] = tick;
            noteNumber[n] = data1;
            velocity[n] = data2;
            onOrder[n] = order;
            channelOf[n] = status & 15;
            ons[status & 15]!++;
            n++;
            if (open === 0) first[key] = n;
            else {
              follows ??= new Int32Array(room);
              follows[last[key]! - 1] = n;
              follows[n - 1] = 0;
            }
            last[key] = n;
            continue;
          }
          if (open > 0) {
            const i = open - 1;
            first[key] = follows === null ? 0 : follows[i]!;
            end[i] = tick;
            offOrder[i] = order;
            offVelocity[i] = data2;
            offKind[i] = kind === 0x90 ? OFF_BY_VELOCITY_0 : OFF_BY_NOTE_OFF;
            continue;
          }
        }
        others[status & 15]!++;
        pile.add(tick, order, status, data1, data2);
        continue;
      }

      if (status !== META && status !== 0xf0 && status !== 0xf7) return false;
      const type = status === META ? bytes[at++]! : 0;
      let byte = bytes[at++]!;
      let length = byte & 0x7f;
      for (let width = 1; byte >= 0x80; width++) {
        if (width === 4) return false;
        byte = bytes[at++]!;
        length = (length << 7) | (byte & 0x7f);
      }
      if (!(at + length <= limit)) return false;
      if (status === META) {
        if (type === META_END_OF_TRACK) {
          if (length > 0) return false;
          ended = true;
          break;
        }
        if (type === META_TEMPO || type === META_METER) {
          checkMeta(bytes, type, at, length, at, 0, log);
          if (log.list.length > 0) return false;
        }
      }
      plain.take(tick, status, type, at, length, order);
      at += length;
      // A meta or sysex event ends the running status; SMF 1.0, "Track Chunks".
      running = 0;
    }
    this.events += order;
    if (!ended || at !== limit || this.events > MOST_EVENTS) return false;

    for (let key = 0; key < 2048; key++) {
      for (let open = first[key]!; open > 0; open = follows === null ? 0 : follows[open - 1]!) {
        end[open - 1] = tick;
        offOrder[open - 1] = 0;
        offVelocity[open - 1] = 0;
        offKind[open - 1] = OFF_MISSING;
      }
    }
    gather.addTrack(plain.end(tick, order), this.channels(n, ons, others));
    return true;
  }

  private channels(count: number, ons: Uint32Array, others: Uint32Array): ChannelContent[] {
    const used = [...Array(16).keys()].filter((c) => ons[c]! + others[c]! > 0);
    if (used.length === 0) return [];
    const events = this.pile.byChannel(others);
    let id = this.gather.nextId;
    const [only] = used;
    if (used.length === 1)
      return [
        {
          channel: only! + 1,
          notes: this.room.take(count, id),
          events: events[only!] ?? NO_EVENTS,
        },
      ];
    // Several channels on one track: each gets columns of its own, and the room is free again.
    const free = this.room.free();
    const places = Array.from(ons, (n) => new Uint32Array(n));
    const filled = new Uint32Array(16);
    for (let i = 0; i < count; i++) {
      const channel = this.channelOf[i]!;
      places[channel]![filled[channel]!++] = i;
    }
    return used.map((c) => {
      const notes = pickNotes(free, places[c]!);
      for (let i = 0; i < notes.count; i++) notes.id[i] = id++;
      return {
        channel: c + 1,
        notes: { ...notes, origin: notes.id },
        events: events[c] ?? NO_EVENTS,
      };
    });
  }
}
