import { writeMidi, type MidiData, type MidiEvent } from 'midi-file';
import { rehearse } from '../src/core/standin/index';
import type { Complaint, DeliveredFile, Played } from '../src/core/standin/played';
import type { Target } from '../src/core/target/schema';

/** An event at its tick, before deltas are made of it. */
interface Placed {
  readonly tick: number;
  /** At one tick offs stand before what is set, and that before ons. */
  readonly rank: number;
  readonly event: Record<string, unknown>;
}

export const tempoAt = (tick: number, microsecondsPerBeat: number): Placed[] => [
  { tick, rank: 1, event: { type: 'setTempo', meta: true, microsecondsPerBeat } },
];
export const meterAt = (tick: number, numerator: number, denominator: number): Placed[] => [
  {
    tick,
    rank: 1,
    event: {
      type: 'timeSignature',
      meta: true,
      numerator,
      denominator,
      metronome: 24,
      thirtyseconds: 8,
    },
  },
];
const textAt = (type: string) => (tick: number, text: string) => [
  { tick, rank: 1, event: { type, meta: true, text } },
];
export const markerAt = textAt('marker');
export const lyricAt = textAt('lyrics');
export const named = (text: string): Placed[] => textAt('trackName')(0, text);
export const noteAt = (
  channel: number,
  tick: number,
  length: number,
  noteNumber: number,
  velocity = 100,
): Placed[] => [
  { tick, rank: 2, event: { type: 'noteOn', channel: channel - 1, noteNumber, velocity } },
  {
    tick: tick + length,
    rank: 0,
    event: { type: 'noteOff', channel: channel - 1, noteNumber, velocity: 64 },
  },
];
export const controlAt = (
  tick: number,
  channel: number,
  controllerType: number,
  value: number,
): Placed[] => [
  { tick, rank: 1, event: { type: 'controller', channel: channel - 1, controllerType, value } },
];
export const programAt = (tick: number, channel: number, programNumber: number): Placed[] => [
  { tick, rank: 1, event: { type: 'programChange', channel: channel - 1, programNumber } },
];
export const bendAt = (tick: number, channel: number, value: number): Placed[] => [
  { tick, rank: 1, event: { type: 'pitchBend', channel: channel - 1, value } },
];
export const sysexAt = (tick: number, data: readonly number[]): Placed[] => [
  { tick, rank: 1, event: { type: 'sysEx', data } },
];

export interface Reel {
  readonly format?: 0 | 1;
  readonly ppq?: number;
  readonly tracks: readonly (readonly Placed[])[];
  /** Where every track ends, if later than its last event. */
  readonly end?: number;
}

/** A MIDI file by a general package: nothing in it is ours, so that a stand-in is tested alone. */
export function midiFile({ format = 1, ppq = 480, tracks, end = 0 }: Reel): Uint8Array {
  const data = {
    header: { format, numTracks: tracks.length, ticksPerBeat: ppq },
    tracks: tracks.map((placed) => {
      const sorted = [...placed].sort((a, b) => a.tick - b.tick || a.rank - b.rank);
      let at = 0;
      const events = sorted.map(({ tick, event }) => {
        const deltaTime = tick - at;
        at = tick;
        return { ...event, deltaTime };
      });
      return [...events, { type: 'endOfTrack', meta: true, deltaTime: Math.max(0, end - at) }];
    }) as unknown as MidiEvent[][],
  } as MidiData;
  return Uint8Array.from(writeMidi(data));
}

/** One track with its tempo and meter: 120 BPM and 4/4 where nothing is said. */
export const oneTrack = (...placed: (readonly Placed[])[]): Placed[][] => [
  [...tempoAt(0, 500_000), ...meterAt(0, 4, 4), ...placed.flat()],
];

export const textFile = (path: string, text: string): DeliveredFile => ({
  path,
  bytes: new TextEncoder().encode(text),
});
/** JSON as our formats lay it out. */
export const jsonFile = (path: string, value: unknown): DeliveredFile =>
  textFile(path, `${JSON.stringify(value, null, 2)}\n`);
/** A CSV of plain cells, CR LF behind each line (RFC 4180). */
export const csvFile = (path: string, rows: readonly (readonly unknown[])[]): DeliveredFile =>
  textFile(path, rows.map((r) => `${r.join(',')}\r\n`).join(''));

/** PCM of 16 bit, all of one value. */
export function waveFile(path: string, samples: number, rate = 8000, value = 0): DeliveredFile {
  const bytes = new Uint8Array(44 + samples * 2);
  const view = new DataView(bytes.buffer);
  const tag = (at: number, name: string) =>
    [...name].forEach((c, i) => (bytes[at + i] = c.charCodeAt(0)));
  tag(0, 'RIFF');
  tag(8, 'WAVE');
  tag(12, 'fmt ');
  tag(36, 'data');
  view.setUint32(4, bytes.length - 8, true);
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * 2, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  view.setUint32(40, samples * 2, true);
  for (let i = 0; i < samples; i++) view.setInt16(44 + i * 2, value, true);
  return { path, bytes };
}

/** What a device did, short: time in ms, seat, key. */
export interface Heard {
  readonly played: Played;
  readonly notes: readonly string[];
  readonly lost: readonly string[];
  readonly says: readonly string[];
  /** Of what a MIDI file is refused for: the bytes that stand where it says, and what it says. */
  readonly bytes: readonly string[];
}

/** "b3 07: It takes no controllers." for what is said of a byte; else the place as it is. */
function bytesOf({ file, at, says }: Complaint, files: readonly DeliveredFile[]): string {
  const n = /^byte (\d+)$/.exec(at)?.[1];
  const bytes = files.find((f) => f.path === file)?.bytes.subarray(Number(n), Number(n) + 2) ?? [];
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join(' ');
  return `${n === undefined ? at : hex}: ${says}`;
}

export function hear(target: Target, files: readonly DeliveredFile[]): Heard {
  const played = rehearse(files, target);
  const ms = (us: number) => Math.round(us / 1000);
  return {
    played,
    notes: played.events.map((e) => `${ms(e.atUs)} ${e.seat} ${e.key}`),
    lost: played.dropped.map((d) => `${ms(d.atUs)} ${d.seat} ${d.key}: ${d.because}`),
    says: played.refused.map((r) => `${r.file} ${r.at}: ${r.says}`),
    bytes: played.refused.map((r) => bytesOf(r, files)),
  };
}

export const hearMidi = (target: Target, reel: Reel, path = 'SONG.mid'): Heard =>
  hear(target, [{ path, bytes: midiFile(reel) }]);
