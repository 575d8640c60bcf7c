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
  readDivision,
  type SmfFile,
  type SmfTrack,
} from '../smf/file';
import { decodeText } from '../smf/text';
import { newEvents, newNotes } from './columns';
import {
  OFF_BY_NOTE_OFF,
  OFF_BY_VELOCITY_0,
  OFF_MISSING,
  type KeyMark,
  type Marker,
  type MeterMark,
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

  chosen.forEach((track, index) => {
    const plain = readPlainEvents(track, index, lists);
    tracks.push(plain.track);
    for (const filled of readChannels(track, plain.track.endTick)) {
      const name = plain.track.name ?? plain.instrument ?? '';
      const slot = `${name}\n${filled.channel}`;
      const occurrence = seen.get(slot) ?? 0;
      seen.set(slot, occurrence + 1);
      const { notes } = filled;
      for (let i = 0; i < notes.count; i++) notes.id[i] = nextId++;
      parts.push({
        id: `${prefix}t${index}c${filled.channel}`,
        ref: { source: options.sourceKey, track: name, channel: filled.channel, occurrence },
        name: name || `Track ${index + 1}`,
        track: index,
        channel: filled.channel,
        notes: { ...notes, origin: notes.id },
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

function readPlainEvents(track: SmfTrack, index: number, lists: Lists) {
  const events: TrackEvent[] = [];
  let name: string | null = null;
  let instrument: string | null = null;
  const last = track.count - 1;
  for (let i = 0; i < last; i++) {
    const status = track.status[i]!;
    if (status < 0xf0) continue;
    const tick = track.tick[i]!;
    const type = track.data1[i]!;
    const bytes = payload(track, i);
    const at = { tick, track: index, order: i + 1 };
    if (status === META) {
      if (type === META_TEMPO && bytes.length === 3) {
        const microsecondsPerQuarter = bigEndian(bytes, 0, 3);
        if (microsecondsPerQuarter > 0) {
          lists.tempos.push({ ...at, microsecondsPerQuarter });
          continue;
        }
      } else if (type === META_METER && bytes.length >= 2 && bytes[0]! > 0 && bytes[1]! <= 7) {
        const meter = { numerator: bytes[0]!, denominator: 2 ** bytes[1]! };
        lists.meters.push({ ...at, ...meter, rest: bytes.subarray(2) });
        continue;
      } else if (type === META_KEY && bytes.length === 2) {
        lists.keys.push({ ...at, bytes });
        continue;
      } else if (type === META_MARKER) {
        lists.markers.push({ ...at, text: decodeText(bytes).text, bytes });
        continue;
      }
      if (type === META_TRACK_NAME) name ??= decodeText(bytes).text.trim();
      if (type === META_INSTRUMENT) instrument ??= decodeText(bytes).text.trim();
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

/** Notes and other events of each channel that is used, in channel order. */
function readChannels(track: SmfTrack, endTick: number) {
  const { count, tick, status, data1, data2 } = track;
  const ons = new Uint32Array(16);
  const others = new Uint32Array(16);
  for (let i = 0; i < count; i++) {
    const event = status[i]!;
    if (event >= 0xf0) continue;
    if (event >= 0x90 && event < 0xa0 && data2[i]! > 0) ons[event & 15]!++;
    else others[event & 15]!++;
  }
  const used = [...Array(16).keys()].filter((c) => ons[c]! + others[c]! > 0);
  const notes = Array.from({ length: 16 }, (_, c) => newNotes(ons[c]!));
  const events = Array.from({ length: 16 }, () => newEvents(0));
  for (const c of used) {
    // Most of the others are note-offs; what is left over is counted below.
    events[c] = newEvents(others[c]!);
  }
  const noteCount = new Uint32Array(16);
  const eventCount = new Uint32Array(16);
  // Open notes of each channel and key, a queue of note indices: first, last, and who follows whom.
  const first = new Int32Array(16 * 128).fill(-1);
  const last = new Int32Array(16 * 128).fill(-1);
  const follows = Array.from({ length: 16 }, (_, c) => new Int32Array(ons[c]!));

  for (let i = 0; i < count; i++) {
    const event = status[i]!;
    if (event >= 0xf0) continue;
    const c = event & 15;
    const kind = event & 0xf0;
    const key = c * 128 + data1[i]!;
    if (kind === 0x90 && data2[i]! > 0) {
      const columns = notes[c]!;
      const n = noteCount[c]!++;
      columns.start[n] = tick[i]!;
      columns.noteNumber[n] = data1[i]!;
      columns.velocity[n] = data2[i]!;
      columns.onOrder[n] = i + 1;
      columns.offKind[n] = OFF_MISSING;
      columns.end[n] = endTick;
      follows[c]![n] = -1;
      if (first[key]! < 0) first[key] = n;
      else follows[c]![last[key]!] = n;
      last[key] = n;
      continue;
    }
    if (kind <= 0x90 && first[key]! >= 0) {
      const columns = notes[c]!;
      const n = first[key]!;
      first[key] = follows[c]![n]!;
      columns.end[n] = tick[i]!;
      columns.offKind[n] = kind === 0x80 ? OFF_BY_NOTE_OFF : OFF_BY_VELOCITY_0;
      columns.offVelocity[n] = data2[i]!;
      columns.offOrder[n] = i + 1;
      continue;
    }
    const columns = events[c]!;
    const n = eventCount[c]!++;
    columns.tick[n] = tick[i]!;
    columns.kind[n] = kind;
    columns.data1[n] = data1[i]!;
    columns.data2[n] = data2[i]!;
    columns.order[n] = i + 1;
  }
  return used.map((c) => {
    const all = events[c]!;
    const n = eventCount[c]!;
    const kept = newEvents(n);
    kept.tick.set(all.tick.subarray(0, n));
    kept.kind.set(all.kind.subarray(0, n));
    kept.data1.set(all.data1.subarray(0, n));
    kept.data2.set(all.data2.subarray(0, n));
    kept.order.set(all.order.subarray(0, n));
    return { channel: c + 1, notes: notes[c]!, events: kept };
  });
}
