import { Bytes, deltas, frames16, frames8, loopOf } from './bytes';
import { unpackIt } from './unpack-it';
import {
  CELL,
  NOTE_CUT,
  NOTE_FADE,
  NOTE_OFF,
  VOL,
  type Envelope,
  type Instrument,
  type Module,
  type Sample,
} from './module';
import { letterEffect } from './read-s3m';

export const isIt = (b: Bytes): boolean => b.is(0, 'IMPM');

/** Cells name samples and instruments, and orders patterns, by one byte. */
const MOST_OF_EACH = 256;

export function readIt(b: Bytes): Module {
  const [orderCount, instrumentCount, sampleCount, patternCount] = [0x20, 0x22, 0x24, 0x26].map(
    (at) => b.u16(at),
  ) as [number, number, number, number];
  const compatible = b.u16(0x2a);
  const flags = b.u16(0x2c);
  const listAt = 0xc0 + orderCount;
  const offset = (index: number) => b.u32(listAt + index * 4);
  const inFile = (count: number, from: number) =>
    Math.min(count, Math.max(0, Math.floor((b.length - listAt) / 4) - from));
  const samples: (Sample | null)[] = [null];
  const sampleTotal = Math.min(MOST_OF_EACH, inFile(sampleCount, instrumentCount));
  for (let s = 0; s < sampleTotal; s++)
    samples.push(readSample(b, offset(instrumentCount + s), s + 1));
  const useInstruments = (flags & 4) !== 0;
  const instruments: (Instrument | null)[] = [null];
  for (let i = 0; i < Math.min(MOST_OF_EACH, inFile(instrumentCount, 0)) && useInstruments; i++)
    instruments.push(readInstrument(b, offset(i), compatible < 0x200, i + 1));
  const patternTotal = Math.min(MOST_OF_EACH, inFile(patternCount, instrumentCount + sampleCount));
  const wide: { rows: number; cells: Uint8Array; used: number }[] = [];
  for (let p = 0; p < patternTotal; p++)
    wide.push(readPattern(b, offset(instrumentCount + sampleCount + p), p));
  const channels = Math.max(1, ...wide.map((w) => w.used));
  const patterns = wide.map(({ rows, cells }) => ({ rows, cells: narrow(cells, rows, channels) }));
  const pans = Array.from({ length: channels }, (_, c) => b.u8(0x40 + c));
  const hasMessage = (b.u16(0x2e) & 1) !== 0;
  const messageLength = Math.min(32_000, b.u16(0x36));
  return {
    format: 'it',
    name: b.text(4, 26),
    comment: hasMessage ? readMessage(b, b.u32(0x38), messageLength) : '',
    channels,
    orders: Array.from({ length: orderCount }, (_, i) => b.u8(0xc0 + i)),
    restart: 0,
    patterns,
    samples,
    instruments: useInstruments ? instruments : null,
    speed: b.u8(0x32) || 6,
    tempo: Math.max(32, b.u8(0x33) || 125),
    globalVolume: Math.min(128, b.u8(0x30)) / 128,
    pan: pans.map((p) => ((p & 0x7f) <= 64 ? (p & 0x7f) / 64 : 0.5)),
    channelVolume: pans.map((_, c) => Math.min(64, b.u8(0x80 + c)) / 64),
    muted: pans.map((p) => (p & 0x80) !== 0),
    linear: (flags & 8) !== 0,
    fastSlides: false,
    oldEffects: (flags & 16) !== 0,
    ownPortamento: (flags & 32) !== 0,
    periodLimits: false,
    highlight: b.u16(0x2e) & 4 ? highlightOf(b.u8(0x1e), b.u8(0x1f)) : null,
  };
}

const highlightOf = (beat: number, bar: number): [number, number] | null =>
  beat >= 1 && beat <= 32 && bar >= beat && bar % beat === 0 ? [beat, bar] : null;

const readMessage = (b: Bytes, at: number, length: number) =>
  Array.from(b.all.subarray(at, Math.min(b.length, at + length)), (c) =>
    c === 13 || c === 10 ? '\n' : c === 0 ? '' : c < 32 ? ' ' : String.fromCharCode(c),
  ).join('');

function readSample(b: Bytes, at: number, number: number): Sample | null {
  if (at + 0x50 > b.length || !b.is(at, 'IMPS')) {
    b.doubt(at, `Sample ${number} is not where the file says; it is silent.`);
    return null;
  }
  const flags = b.u8(at + 0x12);
  const convert = b.u8(at + 0x2e);
  const wide = (flags & 2) !== 0;
  const stored = b.u32(at + 0x30);
  const length = flags & 1 ? stored : 0;
  const data = b.u32(at + 0x48);
  const what = `Sample ${number}`;
  const unsigned = (convert & 1) === 0;
  let next = data;
  const load = (): Float32Array => {
    if (length === 0) return new Float32Array(0);
    if (flags & 8) {
      const { frames, end } = unpackIt(b, next, length, wide, (convert & 4) !== 0, what);
      next = end;
      return frames;
    }
    const from = next;
    next += length * (wide ? 2 : 1);
    const read = (wide ? frames16 : frames8)(b, from, length, what, unsigned);
    return convert & 4 ? deltas(read, wide ? 16 : 8) : read;
  };
  const frames = load();
  const right = flags & 4 && length > 0 ? load() : null;
  const pan = b.u8(at + 0x2f);
  const depth = b.u8(at + 0x4d);
  return {
    name: b.text(at + 0x14, 26) || b.text(at + 4, 12),
    frames,
    right,
    rate: Math.min(768_000, Math.max(1, b.u32(at + 0x3c) || 8363)),
    volume: Math.min(64, b.u8(at + 0x13)),
    gain: Math.min(64, b.u8(at + 0x11)) / 64,
    pan: pan & 0x80 ? Math.min(64, pan & 0x7f) / 64 : null,
    loop:
      flags & 16
        ? loopOf(b.u32(at + 0x34), b.u32(at + 0x38), frames.length, (flags & 64) !== 0)
        : null,
    sustain:
      flags & 32
        ? loopOf(b.u32(at + 0x40), b.u32(at + 0x44), frames.length, (flags & 128) !== 0)
        : null,
    vibrato:
      depth > 0
        ? {
            wave: b.u8(at + 0x4f) & 3,
            depth: depth / 2,
            speed: b.u8(at + 0x4c),
            sweep: b.u8(at + 0x4e) ? Math.ceil((depth * 256) / b.u8(at + 0x4e)) : 0,
          }
        : null,
  };
}

function readInstrument(b: Bytes, at: number, old: boolean, number: number): Instrument | null {
  if (at + 0x130 > b.length || !b.is(at, 'IMPI')) {
    b.doubt(at, `Instrument ${number} is not where the file says; it is silent.`);
    return null;
  }
  const sampleOf = new Uint16Array(120);
  const keyOf = new Uint8Array(120);
  for (let k = 0; k < 120; k++) {
    keyOf[k] = Math.min(119, b.u8(at + 0x40 + 2 * k));
    sampleOf[k] = b.u8(at + 0x41 + 2 * k);
  }
  const name = b.text(at + 0x20, 26);
  if (old) {
    const flags = b.u8(at + 0x11);
    const points = Array.from({ length: 25 }, (_, i) => ({
      tick: b.u8(at + 0x1f8 + 2 * i),
      value: Math.min(64, b.u8(at + 0x1f9 + 2 * i)) / 64,
    }));
    const end = points.findIndex((p) => p.tick === 0xff);
    const used = end < 0 ? points : points.slice(0, end);
    return {
      name,
      sampleOf,
      keyOf,
      volume:
        flags & 1 && used.length > 0
          ? bounded(
              used,
              flags & 2 ? [b.u8(at + 0x12), b.u8(at + 0x13)] : null,
              flags & 4 ? [b.u8(at + 0x14), b.u8(at + 0x15)] : null,
            )
          : null,
      pan: null,
      pitch: null,
      fade: (b.u16(at + 0x18) * 2) / 1024,
      newNote: b.u8(at + 0x1a) & 3,
      duplicate: b.u8(at + 0x1b) ? 1 : 0,
      duplicateAction: 0,
      gain: 1,
      defaultPan: null,
      filter: false,
    };
  }
  const pan = b.u8(at + 0x19);
  const pitchFlags = b.u8(at + 0x130 + 2 * 82);
  const isFilter = (pitchFlags & 0x80) !== 0;
  return {
    name,
    sampleOf,
    keyOf,
    volume: envelopeOf(b, at + 0x130, (v) => Math.max(0, Math.min(64, v)) / 64),
    pan: envelopeOf(b, at + 0x130 + 82, (v) => Math.max(-32, Math.min(32, v)) / 32),
    pitch: isFilter
      ? null
      : envelopeOf(b, at + 0x130 + 164, (v) => Math.max(-32, Math.min(32, v)) / 2),
    fade: b.u16(at + 0x14) / 1024,
    newNote: b.u8(at + 0x11) & 3,
    duplicate: b.u8(at + 0x12) & 3,
    duplicateAction: Math.min(2, b.u8(at + 0x13)),
    gain: Math.min(128, b.u8(at + 0x18)) / 128,
    defaultPan: pan & 0x80 ? null : Math.min(64, pan) / 64,
    filter: (isFilter && (pitchFlags & 1) !== 0) || (b.u8(at + 0x3a) & 0x80) !== 0,
  };
}

function envelopeOf(b: Bytes, at: number, of: (value: number) => number): Envelope | null {
  const flags = b.u8(at);
  const count = Math.min(25, b.u8(at + 1));
  if (!(flags & 1) || count < 1) return null;
  const points: { tick: number; value: number }[] = [];
  for (let p = 0; p < count; p++) {
    const tick = b.u16(at + 7 + p * 3);
    if (points.length > 0 && tick < points.at(-1)!.tick) break;
    points.push({ tick, value: of(b.i8(at + 6 + p * 3)) });
  }
  return bounded(
    points,
    flags & 2 ? [b.u8(at + 2), b.u8(at + 3)] : null,
    flags & 4 ? [b.u8(at + 4), b.u8(at + 5)] : null,
  );
}

function bounded(
  points: Envelope['points'],
  loop: [number, number] | null,
  sustain: [number, number] | null,
): Envelope {
  const ok = (pair: [number, number] | null) =>
    pair && pair[0] <= pair[1] && pair[1] < points.length ? pair : null;
  return { points, loop: ok(loop), sustain: ok(sustain), carries: true };
}

const WIDE = 64;

function readPattern(b: Bytes, at: number, number: number) {
  if (at === 0) return { rows: 64, cells: new Uint8Array(0), used: 0 };
  const told = b.u16(at + 2);
  const rows = told >= 1 && told <= 1024 ? told : 64;
  if (at + 8 > b.length || rows !== told)
    b.doubt(at, `Pattern ${number} says it has ${told} rows; ${rows} are taken.`);
  const cells = new Uint8Array(rows * WIDE * CELL);
  const masks = new Uint8Array(WIDE);
  const last = new Uint8Array(WIDE * 5);
  const stop = at + 8 + b.there(at + 8, at + 8 > b.length ? 0 : b.u16(at), `Pattern ${number}`);
  b.at = at + 8;
  let used = 0;
  for (let row = 0; row < rows && b.at < stop;) {
    const what = b.u8();
    if (what === 0) {
      row++;
      continue;
    }
    const c = (what - 1) & 63;
    if (what & 0x80) masks[c] = b.u8();
    const mask = masks[c]!;
    const to = (row * WIDE + c) * CELL;
    const l = c * 5;
    if (mask & 1) last[l] = b.u8();
    if (mask & 2) last[l + 1] = b.u8();
    if (mask & 4) last[l + 2] = b.u8();
    if (mask & 8) {
      last[l + 3] = b.u8();
      last[l + 4] = b.u8();
    }
    if (mask & 0x11) cells[to] = noteOf(last[l]!);
    if (mask & 0x22) cells[to + 1] = last[l + 1]!;
    if (mask & 0x44) setVolume(cells, to, last[l + 2]!);
    if (mask & 0x88) {
      const [fx, param] = letterEffect(last[l + 3]!, last[l + 4]!, 'it');
      cells[to + 4] = fx;
      cells[to + 5] = param;
    }
    used = Math.max(used, c + 1);
  }
  return { rows, cells, used };
}

const noteOf = (note: number): number =>
  note < 120 ? note + 1 : note === 255 ? NOTE_OFF : note === 254 ? NOTE_CUT : NOTE_FADE;

/** Where each kind of the volume column begins, and how many values it has. */
const COLUMN: readonly (readonly [number, number, number])[] = [
  [0, 65, VOL.set],
  [65, 10, VOL.fineUp],
  [75, 10, VOL.fineDown],
  [85, 10, VOL.slideUp],
  [95, 10, VOL.slideDown],
  [105, 10, VOL.pitchDown],
  [115, 10, VOL.pitchUp],
  [128, 65, VOL.pan],
  [193, 10, VOL.tone],
  [203, 10, VOL.vibrato],
];

function setVolume(cells: Uint8Array, at: number, value: number): void {
  for (const [from, count, kind] of COLUMN)
    if (value >= from && value < from + count) {
      cells[at + 2] = kind;
      cells[at + 3] = value - from;
    }
}

function narrow(cells: Uint8Array, rows: number, channels: number): Uint8Array {
  if (cells.length === 0) return cells;
  const out = new Uint8Array(rows * channels * CELL);
  for (let r = 0; r < rows; r++)
    out.set(cells.subarray(r * WIDE * CELL, (r * WIDE + channels) * CELL), r * channels * CELL);
  return out;
}
