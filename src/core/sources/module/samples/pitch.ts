import { Correlator } from '../../../sound/correlate';
import type { Sample } from '../module';

/** What a struck C sounds as. */
export interface SoundingPitch {
  /** Hz at key 60. */
  readonly hz: number;
  /** Semitones above what is written, and what is left of it in cents (−50 to 50). */
  readonly semitones: number;
  readonly cents: number;
  /** 0 to 1: how periodic it is. */
  readonly strength: number;
}

const MIDDLE_C_HZ = 440 * 2 ** (-9 / 12);
const LOWEST_HZ = 24;
const HIGHEST_HZ = 4200;
/** Below it a sound has no pitch to speak of. */
export const PITCHED = 0.6;
/** Dips that are nearly as deep as the deepest: the first of them is the period. */
const AS_DEEP = 0.12;
const MOST_WINDOWS = 7;
const LEAST_RATE = 16_000;

/**
 * The pitch of a sample by its period: the mean normalised difference (de Cheveigné and Kawahara,
 * 2002), in several windows; the median of those that are periodic. A short loop is heard as it goes
 * round.
 */
export function soundingPitch(sample: Sample): SoundingPitch | null {
  const { rate, frames } = thinned(heldFrames(sample), sample.rate);
  if (frames.length < 32) return null;
  const longest = Math.min(Math.floor(frames.length / 2.2), Math.ceil(rate / LOWEST_HZ));
  const shortest = Math.max(2, Math.floor(rate / HIGHEST_HZ));
  if (longest <= shortest + 2) return null;
  const width = Math.min(frames.length - longest, Math.max(longest, 512), 2400);
  const windows: { hz: number; strength: number }[] = [];
  const last = frames.length - longest - width;
  // The beginning is noise in many sounds: the first window lies behind it where there is room.
  const first = Math.min(last, Math.round(0.03 * rate));
  const count = Math.max(1, Math.min(MOST_WINDOWS, Math.floor((last - first) / width) + 1));
  let loudest = 0;
  const powers: number[] = [];
  const starts: number[] = [];
  for (let w = 0; w < count; w++) {
    const at =
      count === 1 ? Math.max(0, first) : first + Math.round(((last - first) * w) / (count - 1));
    let power = 0;
    for (let i = at; i < at + width; i++) power += frames[i]! ** 2;
    powers.push(power / width);
    starts.push(at);
    loudest = Math.max(loudest, power / width);
  }
  for (const [w, at] of starts.entries())
    if (powers[w]! > loudest * 0.003 && loudest > 1e-7) {
      const found = periodAt(frames, at, width, shortest, longest);
      if (found) windows.push({ hz: rate / found.period, strength: found.strength });
    }
  if (windows.length === 0) return null;
  const sorted = [...windows].sort((a, b) => a.hz - b.hz);
  const sure = sorted.filter((w) => w.strength >= PITCHED);
  const of = sure.length > 0 ? sure : sorted;
  const { hz } = of[of.length >> 1]!;
  const near = windows.filter((w) => Math.abs(12 * Math.log2(w.hz / hz)) < 0.6);
  const strength =
    (near.reduce((sum, w) => sum + Math.max(0, w.strength), 0) / windows.length) *
    Math.min(1, near.length / Math.max(1, windows.length * 0.6));
  const away = 12 * Math.log2(hz / MIDDLE_C_HZ);
  const semitones = Math.round(away) || 0;
  return {
    hz,
    semitones,
    cents: Math.round((away - semitones) * 100),
    strength: Math.min(1, strength),
  };
}

/** Half the frames, and half again, while enough are left for the highest pitch. */
function thinned(from: Float32Array, of: number): { rate: number; frames: Float32Array } {
  let [frames, rate] = [from, of];
  while (rate >= 2 * LEAST_RATE) {
    const half = new Float32Array(frames.length >> 1);
    for (let i = 0; i < half.length; i++) half[i] = (frames[2 * i]! + frames[2 * i + 1]!) / 2;
    frames = half;
    rate /= 2;
  }
  return { rate, frames };
}

/** What is heard while a note is held: a loop goes round until there is enough of it. */
function heldFrames({ frames, loop, sustain, rate }: Sample): Float32Array {
  const round = sustain ?? loop;
  const enough = Math.round(rate * 0.6);
  if (!round || frames.length >= enough) {
    // A long sound: its loudest part lies early.
    return frames.subarray(0, Math.min(frames.length, Math.round(rate * 1.5)));
  }
  const out = new Float32Array(enough);
  const span = round.to - round.from;
  for (let i = 0; i < enough; i++) {
    if (i < round.to) out[i] = frames[i]!;
    else {
      const at = (i - round.to) % (round.pingPong ? 2 * span : span);
      const back = round.pingPong && at < span;
      out[i] = frames[back ? round.to - 1 - at : round.from + (at % span)]!;
    }
  }
  return out;
}

function periodAt(
  frames: Float32Array,
  at: number,
  width: number,
  shortest: number,
  longest: number,
): { period: number; strength: number } | null {
  const d = new Float64Array(longest + 2);
  let sum = 0;
  // The sum of (a − b)² is that of a² and b² without twice that of their products.
  const row = Float64Array.from(frames.subarray(at, at + width + longest));
  const product = new Correlator(row, width).with(row.subarray(0, width)).subarray(width - 1);
  let own = 0;
  for (let i = at; i < at + width; i++) own += frames[i]! ** 2;
  let other = own;
  for (let lag = 1; lag <= longest; lag++) {
    other += frames[at + width + lag - 1]! ** 2 - frames[at + lag - 1]! ** 2;
    const s = Math.max(0, own + other - 2 * product[lag]!);
    sum += s;
    d[lag] = sum > 0 ? (s * lag) / sum : 1;
  }
  let deepest = shortest;
  for (let lag = shortest; lag <= longest; lag++) if (d[lag]! < d[deepest]!) deepest = lag;
  if (!(d[deepest]! < 1)) return null;
  let period = deepest;
  for (let lag = shortest + 1; lag < deepest; lag++)
    if (d[lag]! < d[deepest]! + AS_DEEP && d[lag]! < d[lag - 1]! && d[lag]! <= d[lag + 1]!) {
      period = lag;
      break;
    }
  const strength = 1 - d[period]!;
  // Between frames, by the parabola through the dip.
  const [a, b, c] = [d[period - 1]!, d[period]!, d[period + 1] ?? d[period]!];
  const bow = a - 2 * b + c;
  const by = period > 1 && period < longest && bow > 0 ? (a - c) / (2 * bow) : 0;
  return { period: period + Math.max(-1, Math.min(1, by)), strength };
}
