import {
  bigEndian,
  META,
  META_END_OF_TRACK,
  META_INSTRUMENT,
  META_KEY,
  META_MARKER,
  META_METER,
  META_TEMPO,
  META_TRACK_NAME,
  payloadPlace,
  readDivision,
  type SmfFile,
  type SmfTrack,
} from '../smf/file';
import { decodeText, type ShiftJis } from '../smf/text';
import { newEvents } from './columns';
import { NoteRoom } from './note-room';
import {
  OFF_BY_VELOCITY_0,
  OFF_MISSING,
  type EventColumns,
  type KeyMark,
  type Marker,
  type MeterMark,
  type NoteColumns,
  type Part,
  type Score,
  type ScoreTrack,
  type TempoMark,
  type TrackEvent,
} from './score';

export interface ScoreOptions {
  /** Key of the source in its job. */
  readonly sourceKey: string;
  /** Format 2: which sequence (track) is meant, from 0. */
  readonly sequence?: number;
  /** Note ids begin here. */
  readonly firstId?: number;
  readonly shiftJis?: ShiftJis;
}

/**
 * The music in a file. Notes are paired first on, first off within track × channel: the standard
 * names no order where the same key is struck again before it is released; this one keeps the
 * lengths that a sequencer with separate notes wrote.
 */
export function scoreFromFile(file: SmfFile, options: ScoreOptions): Score {
  const gather = new ScoreGathering(file.division, options);
  const chosen =
    file.format === 2
      ? [file.tracks[options.sequence ?? 0]].filter((t) => t !== undefined)
      : file.tracks;
  const surveys = chosen.map(surveyOf);
  const room = new NoteRoom(surveys.reduce((sum, s) => sum + s.ons.reduce((n, c) => n + c, 0), 0));
  chosen.forEach((track, index) => {
    const survey = surveys[index]!;
    const plain = readPlainEvents(track, survey.plain, gather.plainEvents(track.bytes));
    const channels = readChannels(track, survey, plain.track.endTick, gather.nextId, room);
    gather.addTrack(plain, channels);
  });
  return gather.score();
}

/** What one channel of a track holds. */
export interface ChannelContent {
  /** 1–16. */
  readonly channel: number;
  readonly notes: NoteColumns;
  readonly events: EventColumns;
}

/** A score in the making, one track after the other. */
export class ScoreGathering {
  private readonly tracks: ScoreTrack[] = [];
  private readonly parts: Part[] = [];
  private readonly lists: Lists = { tempos: [], meters: [], keys: [], markers: [] };
  private readonly seen = new Map<string, number>();
  nextId: number;
  constructor(
    private readonly division: number,
    private readonly options: ScoreOptions,
  ) {
    this.nextId = options.firstId ?? 1;
  }

  plainEvents(bytes: Uint8Array): PlainEvents {
    return new PlainEvents(bytes, this.tracks.length, this.lists, this.options.shiftJis);
  }

  /** @param channels in channel order, their note ids from `nextId` on */
  addTrack(plain: PlainTrack, channels: readonly ChannelContent[]) {
    const index = this.tracks.length;
    this.tracks.push(plain.track);
    const name = plain.track.name ?? plain.instrument ?? '';
    for (const { channel, notes, events } of channels) {
      const slot = `${name}\n${channel}`;
      const occurrence = this.seen.get(slot) ?? 0;
      this.seen.set(slot, occurrence + 1);
      this.nextId += notes.count;
      this.parts.push({
        id: `t${index}c${channel}`,
        ref: { source: this.options.sourceKey, track: name, channel, occurrence },
        name: name || `Track ${index + 1}`,
        track: index,
        sourceTrack: index,
        channel,
        notes,
        events,
        leftOut: false,
        seat: null,
        seatChosen: false,
      });
    }
  }

  score(): Score {
    const { tempos, meters, keys, markers } = this.lists;
    return {
      division: readDivision(this.division),
      conductor: {
        tempos: inTickOrder(tempos),
        meters: inTickOrder(meters),
        keys: inTickOrder(keys),
        markers: inTickOrder(markers),
      },
      tracks: this.tracks,
      parts: this.parts,
      lastId: this.nextId - 1,
    };
  }
}

function inTickOrder<T extends { readonly tick: number }>(list: T[]): T[] {
  for (let i = 1; i < list.length; i++)
    if (list[i]!.tick < list[i - 1]!.tick) return list.sort((a, b) => a.tick - b.tick);
  return list;
}

/** What conducts, as it is met. */
export interface Lists {
  tempos: TempoMark[];
  meters: MeterMark[];
  keys: KeyMark[];
  markers: Marker[];
}

/** The meta and sysex events of one track, taken in the order in which they stand. */
export class PlainEvents {
  readonly events: TrackEvent[] = [];
  private name: string | null = null;
  private instrument: string | null = null;
  constructor(
    private readonly bytes: Uint8Array,
    private readonly index: number,
    private readonly lists: Lists,
    private readonly shiftJis: ShiftJis | undefined,
  ) {}

  /** @param at where the payload begins, behind its length */
  take(tick: number, status: number, type: number, at: number, length: number, order: number) {
    const { lists, index: track } = this;
    // A song may follow its tempo thousands of times: no view is made for these.
    if (status === META && type === META_TEMPO && length === 3) {
      const microsecondsPerQuarter = bigEndian(this.bytes, at, 3);
      if (microsecondsPerQuarter > 0) {
        lists.tempos.push({ tick, microsecondsPerQuarter, track, order });
        return;
      }
    }
    const bytes = this.bytes.subarray(at, at + length);
    if (status === META) {
      if (type === META_METER && length >= 2 && bytes[0]! > 0 && bytes[1]! <= 7) {
        const meter = { numerator: bytes[0]!, denominator: 2 ** bytes[1]! };
        lists.meters.push({ tick, track, order, ...meter, rest: bytes.subarray(2) });
        return;
      } else if (type === META_KEY && length === 2) {
        lists.keys.push({ tick, track, order, bytes });
        return;
      } else if (type === META_MARKER) {
        lists.markers.push({ tick, track, order, ...decodeText(bytes, this.shiftJis), bytes });
        return;
      }
      if (type >= 1 && type <= 15) {
        const read = decodeText(bytes, this.shiftJis);
        if (type === META_TRACK_NAME) this.name ??= read.text.trim();
        if (type === META_INSTRUMENT) this.instrument ??= read.text.trim();
        this.events.push({ tick, status, type, bytes, order, read });
        return;
      }
    }
    this.events.push({ tick, status, type, bytes, order });
  }

  end(endTick: number, endOrder: number): PlainTrack {
    const { events, name, instrument } = this;
    return {
      track: { name: name || null, events, endTick, endOrder },
      instrument: instrument || null,
    };
  }
}

export interface PlainTrack {
  readonly track: ScoreTrack;
  readonly instrument: string | null;
}

function readPlainEvents(track: SmfTrack, places: readonly number[], plain: PlainEvents) {
  const last = track.count - 1;
  const place = { at: 0, length: 0 };
  for (const i of places) {
    const { at, length } = payloadPlace(track, i, place);
    plain.take(track.tick[i]!, track.status[i]!, track.data1[i]!, at, length, i + 1);
  }
  const isEnd = track.status[last] === META && track.data1[last] === META_END_OF_TRACK;
  if (!isEnd) throw new Error('a track is always read with its end');
  return plain.end(track.tick[last]!, last + 1);
}

interface Survey {
  /** Note-ons of each channel. */
  readonly ons: Uint32Array;
  /** Channel events of each channel that are no note-ons; most are note-offs. */
  readonly others: Uint32Array;
  /** Places of meta and sysex events, the end of the track left out. */
  readonly plain: readonly number[];
}

/** One pass over a track, so that columns can be made to measure. */
function surveyOf({ count, status, data2 }: SmfTrack): Survey {
  const ons = new Uint32Array(16);
  const others = new Uint32Array(16);
  const plain: number[] = [];
  for (let i = 0; i < count; i++) {
    const event = status[i]!;
    if (event >= 0xf0) {
      if (i < count - 1) plain.push(i);
    } else if ((event & 0xf0) === 0x90 && data2[i]! > 0) ons[event & 15]!++;
    else others[event & 15]!++;
  }
  return { ons, others, plain };
}

/** Notes and other events of each channel that is used, in channel order. */
function readChannels(
  track: SmfTrack,
  survey: Survey,
  endTick: number,
  firstId: number,
  room: NoteRoom,
) {
  const { ons, others } = survey;
  const used = [...Array(16).keys()].filter((c) => ons[c]! + others[c]! > 0);
  // With several channels the places of each are gathered first, so that each is read in one run.
  const places = used.length > 1 ? placesByChannel(track, survey) : null;
  let id = firstId;
  return used.map((c) => {
    const read = readChannel(track, places?.[c] ?? null, ons[c]!, others[c]!, endTick, id, room);
    id += ons[c]!;
    return { channel: c + 1, ...read };
  });
}

function placesByChannel({ count, status }: SmfTrack, { ons, others }: Survey): Uint32Array[] {
  const places = Array.from(ons, (n, c) => new Uint32Array(n + others[c]!));
  const filled = new Uint32Array(16);
  for (let i = 0; i < count; i++) {
    const event = status[i]!;
    if (event >= 0xf0) continue;
    const c = event & 15;
    places[c]![filled[c]!++] = i;
  }
  return places;
}

/**
 * One channel of a track. `places` are its events; null where all channel events are its own. Open
 * notes of a key are a queue: first on, first off.
 */
function readChannel(
  track: SmfTrack,
  places: Uint32Array | null,
  noteCount: number,
  otherCount: number,
  endTick: number,
  firstId: number,
  room: NoteRoom,
): { notes: NoteColumns; events: EventColumns } {
  const { tick, status, data1, data2 } = track;
  const notes = room.take(noteCount, firstId);
  const { start, end, noteNumber, velocity, offKind, offVelocity, onOrder, offOrder } = notes;
  // Places of the events that are left over; mostly far fewer than the note-offs among them.
  const kept: number[] = [];
  const first = new Int32Array(128).fill(-1);
  const last = new Int32Array(128);
  let follows: Int32Array | null = null;
  const total = places ? places.length : track.count;
  let n = 0;
  for (let k = 0; k < total; k++) {
    const i = places ? places[k]! : k;
    const kind = status[i]! & 0xf0;
    if (kind > 0x90) {
      if (kind < 0xf0) kept.push(i);
      continue;
    }
    const key = data1[i]!;
    const strength = data2[i]!;
    const open = first[key]!;
    if (kind === 0x90 && strength > 0) {
      start[n] = tick[i]!;
      noteNumber[n] = key;
      velocity[n] = strength;
      onOrder[n] = i + 1;
      if (open < 0) first[key] = n;
      else {
        follows ??= new Int32Array(noteCount).fill(-1);
        follows[last[key]!] = n;
      }
      last[key] = n++;
    } else if (open >= 0) {
      first[key] = follows === null ? -1 : follows[open]!;
      end[open] = tick[i]!;
      offOrder[open] = i + 1;
      offVelocity[open] = strength;
      if (kind === 0x90) offKind[open] = OFF_BY_VELOCITY_0;
    } else kept.push(i);
  }
  for (let key = 0; key < 128; key++) {
    for (let open = first[key]!; open >= 0; open = follows === null ? -1 : follows[open]!) {
      end[open] = endTick;
      offKind[open] = OFF_MISSING;
    }
  }
  if (otherCount < kept.length) throw new Error('the survey counts every event');
  const events = newEvents(kept.length);
  kept.forEach((i, e) => {
    events.tick[e] = tick[i]!;
    events.kind[e] = status[i]! & 0xf0;
    events.data1[e] = data1[i]!;
    events.data2[e] = data2[i]!;
    events.order[e] = i + 1;
  });
  return { notes, events };
}
