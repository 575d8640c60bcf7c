import { Bytes, frames16, frames8, loopOf } from './bytes';
import { CELL, FX, NOTE_CUT, VOL, type Module, type Pattern, type Sample } from './module';

const ROWS = 64;

export const isS3m = (b: Bytes): boolean => b.is(0x2c, 'SCRM');

export function readS3m(b: Bytes): Module {
  const orderCount = Math.min(256, b.u16(0x20));
  const sampleCount = Math.min(255, b.u16(0x22));
  const patternCount = Math.min(255, b.u16(0x24));
  const flags = b.u16(0x26);
  const version = b.u16(0x28);
  const unsigned = b.u16(0x2a) !== 1;
  const stereo = (b.u8(0x33) & 0x80) !== 0;
  const settings = Array.from({ length: 32 }, (_, c) => b.u8(0x40 + c));
  const channels = settings.findLastIndex((c) => c !== 0xff) + 1 || 1;
  const samplesAt = 0x60 + orderCount;
  const patternsAt = samplesAt + sampleCount * 2;
  const panAt = patternsAt + patternCount * 2;
  const ownPan = b.u8(0x35) === 252;
  const pan = settings.slice(0, channels).map((setting, c) => {
    const said = ownPan ? b.u8(panAt + c) : 0;
    if (said & 0x20) return (said & 15) / 15;
    return stereo ? ((setting & 15) < 8 ? 3 / 15 : 12 / 15) : 0.5;
  });
  const samples: (Sample | null)[] = [null];
  for (let s = 0; s < sampleCount; s++)
    samples.push(readSample(b, b.u16(samplesAt + s * 2) * 16, unsigned, s + 1));
  const patterns: Pattern[] = [];
  for (let p = 0; p < patternCount; p++)
    patterns.push(readPattern(b, b.u16(patternsAt + p * 2) * 16, channels, p));
  return {
    format: 's3m',
    name: b.text(0, 28),
    comment: '',
    channels,
    orders: Array.from({ length: orderCount }, (_, i) => b.u8(0x60 + i)),
    restart: 0,
    patterns,
    samples,
    instruments: null,
    speed: b.u8(0x31) || 6,
    tempo: b.u8(0x32) >= 32 ? b.u8(0x32) : 125,
    globalVolume: Math.min(64, b.u8(0x30)) / 64,
    pan,
    channelVolume: pan.map(() => 1),
    // Channels beyond the sixteenth are of another chip.
    muted: settings.slice(0, channels).map((c) => (c & 0x80) !== 0 || (c & 0x7f) >= 16),
    linear: false,
    fastSlides: (flags & 64) !== 0 || version === 0x1300,
    oldEffects: true,
    ownPortamento: false,
    periodLimits: (flags & 16) !== 0,
    highlight: null,
  };
}

function readSample(b: Bytes, at: number, unsigned: boolean, number: number): Sample | null {
  if (at === 0 || at + 0x50 > b.length) {
    if (at !== 0) b.doubt(at, `Sample ${number} lies behind the end of the file; it is silent.`);
    return null;
  }
  const name = b.text(at + 0x30, 28);
  if (b.u8(at) > 1)
    b.doubt(at, `Sample ${number} is a sound of a chip, not a recording; it is silent.`);
  const length = b.u8(at) === 1 ? b.u32(at + 0x10) : 0;
  const flags = b.u8(at + 0x1f);
  const dataAt = ((b.u8(at + 13) << 16) | b.u16(at + 14)) * 16;
  if (b.u8(at + 0x1e) !== 0)
    b.doubt(at, `Sample ${number} is packed in a way that nobody described.`);
  const wide = (flags & 4) !== 0;
  const read = wide ? frames16 : frames8;
  const what = `Sample ${number}`;
  const frames = length > 0 ? read(b, dataAt, length, what, unsigned) : new Float32Array(0);
  const second = dataAt + length * (wide ? 2 : 1);
  const right = flags & 2 && length > 0 ? read(b, second, length, what, unsigned) : null;
  return {
    name: name || b.text(at + 1, 12),
    frames,
    right,
    rate: Math.min(768_000, Math.max(1, b.u32(at + 0x20) || 8363)),
    volume: Math.min(64, b.u8(at + 0x1c)),
    gain: 1,
    pan: null,
    loop: flags & 1 ? loopOf(b.u32(at + 0x14), b.u32(at + 0x18), frames.length, false) : null,
    sustain: null,
    vibrato: null,
  };
}

function readPattern(b: Bytes, at: number, channels: number, number: number): Pattern {
  const cells = new Uint8Array(ROWS * channels * CELL);
  if (at === 0) return { rows: ROWS, cells };
  if (at + 2 > b.length) {
    b.doubt(at, `Pattern ${number} lies behind the end of the file; it is empty.`);
    return { rows: ROWS, cells };
  }
  b.at = at + 2;
  for (let row = 0; row < ROWS;) {
    if (b.at >= b.length) {
      b.doubt(b.at, `Pattern ${number} ends in its row ${row}.`);
      break;
    }
    const what = b.u8();
    if (what === 0) {
      row++;
      continue;
    }
    const channel = what & 31;
    const to = channel < channels ? (row * channels + channel) * CELL : -1;
    if (what & 32) {
      const note = b.u8();
      const sample = b.u8();
      if (to >= 0) {
        if (note === 254) cells[to] = NOTE_CUT;
        else if (note < 254 && (note & 15) < 12)
          cells[to] = ((note >> 4) + 1) * 12 + (note & 15) + 1;
        cells[to + 1] = sample;
      }
    }
    if (what & 64) {
      const volume = b.u8();
      if (to >= 0 && volume <= 64) {
        cells[to + 2] = VOL.set;
        cells[to + 3] = volume;
      } else if (to >= 0 && volume >= 128 && volume <= 192) {
        cells[to + 2] = VOL.pan;
        cells[to + 3] = volume - 128;
      }
    }
    if (what & 128) {
      const [effect, param] = letterEffect(b.u8(), b.u8(), 's3m');
      if (to >= 0) {
        cells[to + 4] = effect;
        cells[to + 5] = param;
      }
    }
  }
  return { rows: ROWS, cells };
}

/** Effects by letter, A = 1, of the two formats that share them. */
const LETTERS: Readonly<Record<string, number>> = {
  A: FX.speed,
  B: FX.jump,
  C: FX.break,
  D: FX.slide,
  E: FX.down,
  F: FX.up,
  G: FX.tone,
  H: FX.vibrato,
  I: FX.tremor,
  J: FX.arpeggio,
  K: FX.vibratoAndSlide,
  L: FX.toneAndSlide,
  M: FX.channelVolume,
  N: FX.channelSlide,
  O: FX.offset,
  P: FX.panSlide,
  Q: FX.retrigger,
  R: FX.tremolo,
  S: FX.special,
  T: FX.tempo,
  U: FX.fineVibrato,
  V: FX.globalVolume,
  W: FX.globalSlide,
  X: FX.pan,
  Y: FX.panbrello,
  Z: FX.filter,
};

export function letterEffect(effect: number, param: number, of: 's3m' | 'it'): [number, number] {
  const fx = LETTERS[String.fromCharCode(64 + effect)] ?? FX.none;
  if (fx === FX.break && of === 's3m') return [fx, (param >> 4) * 10 + (param & 15)];
  return [fx, fx === FX.none ? 0 : param];
}

/** Effects S0 to SF. */
export const SPECIAL = [
  FX.filter,
  FX.glissando,
  FX.tuning,
  FX.vibratoWave,
  FX.tremoloWave,
  FX.none,
  FX.tickDelay,
  FX.notes,
  FX.pan16,
  FX.none,
  FX.highOffset,
  FX.loop,
  FX.cut,
  FX.delay,
  FX.rowDelay,
  FX.filter,
] as const;
