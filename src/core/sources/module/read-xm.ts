import { Bytes, deltas, frames16, frames8, loopOf } from './bytes';
import {
  CELL,
  FX,
  NNA,
  NOTE_OFF,
  VOL,
  type Envelope,
  type Instrument,
  type Module,
  type Pattern,
  type Sample,
} from './module';
import { effectOf } from './read-mod';

export const isXm = (b: Bytes): boolean => b.is(0, 'Extended Module: ');

const MOST_ROWS = 1024;

export function readXm(b: Bytes): Module {
  const version = b.u16(58);
  const headSize = b.u32(60);
  const channels = Math.min(128, Math.max(1, b.u16(68)));
  const patternCount = Math.min(256, b.u16(70));
  const instrumentCount = Math.min(256, b.u16(72));
  const flags = b.u16(74);
  const length = Math.min(256, b.u16(64));
  const samples: (Sample | null)[] = [null];
  const instruments: (Instrument | null)[] = [null];
  let patterns: Pattern[] = [];
  b.at = 60 + headSize;
  const readPatterns = () => {
    patterns = Array.from({ length: patternCount }, (_, p) => readPattern(b, channels, version, p));
  };
  if (version >= 0x0104) {
    readPatterns();
    for (let i = 0; i < instrumentCount; i++) {
      if (b.at >= b.length) {
        b.doubt(b.at, `Instrument ${i + 1} and those behind it are not in the file.`);
        break;
      }
      const { instrument, load } = readInstrument(b, samples);
      instruments.push(instrument);
      load();
    }
  } else {
    // Before 1.04 all heads of instruments stand first, and the samples last.
    const loads: (() => void)[] = [];
    for (let i = 0; i < instrumentCount && b.at < b.length; i++) {
      const { instrument, load } = readInstrument(b, samples);
      instruments.push(instrument);
      loads.push(load);
    }
    readPatterns();
    for (const load of loads) load();
  }
  const restart = b.u16(66);
  return {
    format: 'xm',
    name: b.text(17, 20),
    comment: '',
    channels,
    orders: Array.from({ length }, (_, i) => b.u8(80 + i)),
    restart: restart < length ? restart : 0,
    patterns,
    samples,
    instruments,
    speed: Math.min(31, b.u16(76)) || 6,
    tempo: Math.min(255, Math.max(32, b.u16(78) || 125)),
    globalVolume: 1,
    pan: Array.from({ length: channels }, () => 0.5),
    channelVolume: Array.from({ length: channels }, () => 1),
    muted: Array.from({ length: channels }, () => false),
    linear: (flags & 1) !== 0,
    fastSlides: false,
    oldEffects: false,
    ownPortamento: true,
    periodLimits: false,
    highlight: null,
  };
}

function readPattern(b: Bytes, channels: number, version: number, number: number): Pattern {
  const from = b.at;
  const head = b.u32(from);
  const told = version === 0x0102 ? b.u8(from + 5) + 1 : b.u16(from + 5);
  const size = b.u16(from + (version === 0x0102 ? 6 : 7));
  const rows = told >= 1 && told <= MOST_ROWS ? told : 64;
  if (rows !== told) b.doubt(from, `Pattern ${number} says it has ${told} rows; 64 are taken.`);
  // A pattern without data is empty, however many rows it has.
  const cells = new Uint8Array(size === 0 ? 0 : rows * channels * CELL);
  const start = from + head;
  const has = b.there(start, size, `Pattern ${number}`);
  b.at = start;
  const stop = start + has;
  for (let cell = 0; cell * CELL < cells.length && b.at < stop; cell++) {
    const first = b.u8();
    const mask = first & 0x80 ? first : 0x1f;
    const take = (bit: number) => (mask & bit && b.at < stop ? b.u8() : 0);
    const note = first & 0x80 ? take(1) : first;
    const to = cell * CELL;
    cells[to] = note === 97 ? NOTE_OFF : note >= 1 && note <= 96 ? note + 12 : 0;
    cells[to + 1] = take(2);
    setVolume(cells, to, take(4));
    const effect = take(8);
    const [fx, param] = xmEffect(effect, take(16));
    cells[to + 4] = fx;
    cells[to + 5] = param;
  }
  b.at = start + size;
  return { rows, cells };
}

/** Volume column by its high half, from 6. */
const COLUMN = [
  VOL.slideDown,
  VOL.slideUp,
  VOL.fineDown,
  VOL.fineUp,
  VOL.vibratoSpeed,
  VOL.vibrato,
  VOL.pan,
  VOL.panLeft,
  VOL.panRight,
  VOL.tone,
] as const;

function setVolume(cells: Uint8Array, at: number, value: number): void {
  if (value >= 0x10 && value <= 0x50) {
    cells[at + 2] = VOL.set;
    cells[at + 3] = value - 0x10;
    return;
  }
  const kind = COLUMN[(value >> 4) - 6];
  if (kind === undefined) return;
  cells[at + 2] = kind;
  cells[at + 3] = kind === VOL.pan ? Math.round(((value & 15) * 64) / 15) : value & 15;
}

function xmEffect(effect: number, param: number): [number, number] {
  if (effect <= 15) return effectOf(effect, param);
  const letter = String.fromCharCode(effect - 10 + 65);
  switch (letter) {
    case 'G':
      return [FX.globalVolume, param];
    case 'H':
      return [FX.globalSlide, param];
    case 'K':
      return [FX.keyOff, param];
    case 'L':
      return [FX.envelopeAt, param];
    case 'P':
      return [FX.panSlide, param];
    case 'R':
      return [FX.retrigger, param];
    case 'T':
      return [FX.tremor, param];
    case 'X':
      if (param >> 4 === 1) return [FX.extraFineUp, param & 15];
      if (param >> 4 === 2) return [FX.extraFineDown, param & 15];
      return [FX.none, 0];
    default:
      return [FX.none, 0];
  }
}

function readInstrument(b: Bytes, samples: (Sample | null)[]) {
  const from = b.at;
  const size = b.u32(from);
  const count = Math.min(16, b.u16(from + 27));
  const name = b.text(from + 4, 22);
  // A size that lies would lead nowhere.
  const next = from + (size >= 29 && size < 0x10000 ? size : 263);
  const headSize = count > 0 ? b.u32(from + 29) : 0;
  const first = samples.length;
  const sampleOf = new Uint16Array(120);
  for (let k = 0; k < 96 && count > 0; k++) {
    const s = b.u8(from + 33 + k);
    sampleOf[k + 12] = s < count ? first + s : 0;
  }
  const at = from + 33 + 96;
  const envelope = (points: number, kinds: number, counts: number, places: number) =>
    count === 0
      ? null
      : envelopeOf(b, at + points, b.u8(at + kinds), b.u8(at + counts), at + places);
  // Without samples there is no more of it than its name: the file may end there.
  const vibrato =
    count > 0 && b.u8(at + 108) > 0
      ? {
          wave: b.u8(at + 106),
          sweep: b.u8(at + 107),
          depth: b.u8(at + 108),
          speed: b.u8(at + 109),
        }
      : null;
  const volume = envelope(0, 104, 96, 98);
  const pan = envelope(48, 105, 97, 101);
  const instrument: Instrument = {
    name,
    sampleOf,
    keyOf: Uint8Array.from({ length: 120 }, (_, k) => k),
    volume,
    pan: pan && {
      ...pan,
      points: pan.points.map((p) => ({ ...p, value: (p.value - 0.5) * 2 })),
    },
    pitch: null,
    fade: count > 0 ? b.u16(at + 110) / 32768 : 0,
    newNote: NNA.cut,
    duplicate: 0,
    duplicateAction: 0,
    gain: 1,
    defaultPan: null,
    filter: false,
  };
  const heads: (() => Sample)[] = [];
  b.at = next;
  const step = headSize >= 40 && headSize < 512 ? headSize : 40;
  for (let s = 0; s < count; s++) {
    const head = next + s * step;
    const type = b.u8(head + 14);
    const wide = (type & 16) !== 0;
    const bytes = b.u32(head);
    samples.push(null);
    const slot = first + s;
    heads.push(() => {
      const stereo = (type & 32) !== 0;
      const channelsOf = stereo ? 2 : 1;
      const width = wide ? 2 : 1;
      const each = Math.floor(bytes / width / channelsOf);
      const what = `Sample ${slot}`;
      const load = (at: number) =>
        wide ? deltas(frames16(b, at, each, what), 16) : deltas(frames8(b, at, each, what), 8);
      const start = b.at;
      const packed = b.u8(head + 17) === PACKED && !wide && !stereo;
      const frames = packed ? unpacked(b, start, bytes, what) : load(start);
      const right = stereo ? load(start + each * width) : null;
      b.at = start + (packed ? STEPS + Math.ceil(bytes / 2) : bytes);
      const loop = type & 3;
      const begin = Math.floor(b.u32(head + 4) / width / channelsOf);
      const round = Math.floor(b.u32(head + 8) / width / channelsOf);
      const relative = b.i8(head + 16);
      const fine = b.i8(head + 13);
      return {
        name: b.text(head + 18, 22) || name,
        frames,
        right,
        rate: 8363 * 2 ** (relative / 12 + fine / (12 * 128)),
        volume: Math.min(64, b.u8(head + 12)),
        gain: 1,
        pan: b.u8(head + 15) / 255,
        loop: loop === 0 ? null : loopOf(begin, begin + round, frames.length, loop === 2),
        sustain: null,
        vibrato,
      };
    });
  }
  b.at = next + count * step;
  const load = () => {
    heads.forEach((read, s) => {
      samples[first + s] = read();
    });
  };
  return { instrument, load };
}

/** Samples of four bits each: sixteen steps, then for each sample which of them is taken, low bits first. */
const PACKED = 0xad;
const STEPS = 16;
function unpacked(b: Bytes, at: number, length: number, what: string): Float32Array {
  const bytes = b.there(at, STEPS + Math.ceil(length / 2), what) - STEPS;
  const out = new Float32Array(b.frames(Math.max(0, Math.min(length, bytes * 2)), what));
  let value = 0;
  for (let i = 0; i < out.length; i++) {
    const byte = b.u8(at + STEPS + (i >> 1));
    value += b.i8(at + (i % 2 === 0 ? byte & 15 : byte >> 4));
    out[i] = ((value << 24) >> 24) / 128;
  }
  return out;
}

function envelopeOf(
  b: Bytes,
  at: number,
  kind: number,
  count: number,
  places: number,
): Envelope | null {
  if (!(kind & 1) || count < 1) return null;
  const points: { tick: number; value: number }[] = [];
  for (let p = 0; p < Math.min(12, count); p++) {
    const tick = b.u16(at + p * 4);
    if (points.length > 0 && tick < points.at(-1)!.tick) break;
    points.push({ tick, value: Math.min(64, b.u16(at + p * 4 + 2)) / 64 });
  }
  const last = points.length - 1;
  const sustain = Math.min(last, b.u8(places));
  const [from, to] = [b.u8(places + 1), b.u8(places + 2)];
  return {
    points,
    sustain: kind & 2 ? [sustain, sustain] : null,
    loop: kind & 4 && from <= to && to <= last ? [from, to] : null,
    carries: false,
  };
}
