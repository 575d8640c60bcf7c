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
  payload,
  payloadPlace,
  readDivision,
  type SmfFile,
  type SmfTrack,
} from '../smf/file';
import { decodeText, type ShiftJis } from '../smf/text';
import { newEvents } from './columns';
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
  /** Place of the source in its job, from 0; part ids of later ones carry it. */
  readonly sourceIndex?: number;
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
  const tracks: ScoreTrack[] = [];
  const parts: Part[] = [];
  const lists = { tempos: [], meters: [], keys: [], markers: [] } as Lists;
  const chosen =
    file.format === 2
      ? [file.tracks[options.sequence ?? 0]].filter((t) => t !== undefined)
      : file.tracks;
  let nextId = options.firstId ?? 1;
  const prefix = options.sourceIndex ? `s${options.sourceIndex}` : '';
  const seen = new Map<string, number>();

  const surveys = chosen.map(surveyOf);
  const room = new NoteRoom(surveys.reduce((sum, s) => s.ons.reduce((n, c) => n + c, sum), 0));
  chosen.forEach((track, index) => {
    const survey = surveys[index]!;
    const plain = readPlainEvents(track, survey.plain, index, lists, options.shiftJis);
    tracks.push(plain.track);
    for (const filled of readChannels(track, survey, plain.track.endTick, nextId, room)) {
      const name = plain.track.name ?? plain.instrument ?? '';
      const slot = `${name}\n${filled.channel}`;
      const occurrence = seen.get(slot) ?? 0;
      seen.set(slot, occurrence + 1);
      nextId += filled.notes.count;
      parts.push({
        id: `${prefix}t${index}c${filled.channel}`,
        ref: { source: options.sourceKey, track: name, channel: filled.channel, occurrence },
        name: name || `Track ${index + 1}`,
        track: index,
        sourceTrack: index,
        channel: filled.channel,
        notes: filled.notes,
        events: filled.events,
        leftOut: false,
        seat: null,
        seatChosen: false,
      });
    }
  });
  const byTick = (a: { tick: number }, b: { tick: number }) => a.tick - b.tick;
  return {
    division: readDivision(file.division),
    conductor: {
      tempos: lists.tempos.sort(byTick),
      meters: lists.meters.sort(byTick),
      keys: lists.keys.sort(byTick),
      markers: lists.markers.sort(byTick),
    },
    tracks,
    parts,
  };
}

interface Lists {
  tempos: TempoMark[];
  meters: MeterMark[];
  keys: KeyMark[];
  markers: Marker[];
}

function readPlainEvents(
  track: SmfTrack,
  places: readonly number[],
  index: number,
  lists: Lists,
  shiftJis: ShiftJis | undefined,
) {
  const events: TrackEvent[] = [];
  let name: string | null = null;
  let instrument: string | null = null;
  const last = track.count - 1;
  const place = { at: 0, length: 0 };
  for (const i of places) {
    const status = track.status[i]!;
    const tick = track.tick[i]!;
    const type = track.data1[i]!;
    // A song may follow its tempo thousands of times: no view is made for these.
    if (status === META && type === META_TEMPO && payloadPlace(track, i, place).length === 3) {
      const microsecondsPerQuarter = bigEndian(track.bytes, place.at, 3);
      if (microsecondsPerQuarter > 0) {
        lists.tempos.push({ tick, microsecondsPerQuarter, track: index, order: i + 1 });
        continue;
      }
    }
    const bytes = payload(track, i);
    const at = { tick, track: index, order: i + 1 };
    if (status === META) {
      if (type === META_METER && bytes.length >= 2 && bytes[0]! > 0 && bytes[1]! <= 7) {
        const meter = { numerator: bytes[0]!, denominator: 2 ** bytes[1]! };
        lists.meters.push({ ...at, ...meter, rest: bytes.subarray(2) });
        continue;
      } else if (type === META_KEY && bytes.length === 2) {
        lists.keys.push({ ...at, bytes });
        continue;
      } else if (type === META_MARKER) {
        lists.markers.push({ ...at, ...decodeText(bytes, shiftJis), bytes });
        continue;
      }
      if (type >= 1 && type <= 15) {
        const read = decodeText(bytes, shiftJis);
        if (type === META_TRACK_NAME) name ??= read.text.trim();
        if (type === META_INSTRUMENT) instrument ??= read.text.trim();
        events.push({ tick, status, type, bytes, order: i + 1, read });
        continue;
      }
    }
    events.push({ tick, status, type, bytes, order: i + 1 });
  }
  const endTick = track.tick[last] ?? 0;
  const isEnd = track.status[last] === META && track.data1[last] === META_END_OF_TRACK;
  if (!isEnd) throw new Error('a track is always read with its end');
  return {
    track: { name: name || null, events, endTick, endOrder: last + 1 } satisfies ScoreTrack,
    instrument: instrument || null,
  };
}

interface Survey {
  /** Note-ons of each channel. */
  readonly ons: Uint32Array;
  /** Channel events of each channel that are no note-ons; most are note-offs. */
  readonly others: Uint32Array;
  /** Places of meta and sysex events, the end of the track left out. */
  readonly plain: readonly number[];
}

/** The notes of all parts, one behind the other: a part's columns are views of its stretch. */
class NoteRoom {
  private used = 0;
  private readonly wide: Int32Array;
  private readonly wideUnsigned: Uint32Array;
  private readonly narrow: Uint8Array;
  constructor(private readonly size: number) {
    const buffer = new ArrayBuffer(size * 20);
    this.wide = new Int32Array(buffer);
    this.wideUnsigned = new Uint32Array(buffer);
    this.narrow = new Uint8Array(size * 4);
  }

  take(count: number, firstId: number): NoteColumns {
    const { size, wide, wideUnsigned, narrow } = this;
    const from = this.used;
    const to = (this.used += count);
    const signed = (n: number) => wide.subarray(n * size + from, n * size + to);
    const unsigned = (n: number) => wideUnsigned.subarray(n * size + from, n * size + to);
    const bytes = (n: number) => narrow.subarray(n * size + from, n * size + to);
    const id = unsigned(4);
    for (let i = 0; i < count; i++) id[i] = firstId + i;
    return {
      count,
      start: signed(0),
      end: signed(1),
      onOrder: unsigned(2),
      offOrder: unsigned(3),
      id,
      origin: id,
      noteNumber: bytes(0),
      velocity: bytes(1),
      offKind: bytes(2),
      offVelocity: bytes(3),
    };
  }
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
