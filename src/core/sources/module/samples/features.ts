import FFT from 'fft.js';
import type { Sample } from '../module';

/** What a sample is like, without a name for it. Levels against its own peak. */
export interface Features {
  readonly seconds: number;
  readonly peak: number;
  /** Seconds until it is at its loudest, and until it has fallen to a tenth of that. */
  readonly rise: number;
  readonly fall: number;
  /** Hz: the mean of the power, and what nine tenths of it lie below. */
  readonly centre: number;
  readonly edge: number;
  /** 0 a few tones, 1 noise. */
  readonly noise: number;
  /** Share of the power below 150 Hz, and above 4 kHz. */
  readonly low: number;
  readonly high: number;
  /** How far the pitch falls in its first tenth of a second: octaves. */
  readonly drop: number;
}

const SIZE = 1024;
/** A sample that says it is played very slowly has no more levels than that. */
const MOST_LEVELS = 20_000;

export function featuresOf(sample: Sample): Features {
  const { frames, rate, loop } = sample;
  const length = loop ? Math.min(frames.length, loop.to) : frames.length;
  let peak = 0;
  for (let i = 0; i < length; i++) peak = Math.max(peak, Math.abs(frames[i]!));
  const hop = Math.max(1, Math.round(rate * 0.004), Math.ceil(length / MOST_LEVELS));
  const levels: number[] = [];
  for (let at = 0; at < length; at += hop) {
    let most = 0;
    for (let i = at; i < Math.min(length, at + hop); i++)
      most = Math.max(most, Math.abs(frames[i]!));
    levels.push(most);
  }
  const top = levels.indexOf(levels.reduce((most, l) => Math.max(most, l), 0));
  let fallen = levels.length;
  for (let i = levels.length - 1; i >= top; i--) {
    if (levels[i]! > peak * 0.1) break;
    fallen = i;
  }
  const spectrum = spectrumOf(frames, length, rate);
  return {
    seconds: length / rate,
    peak,
    rise: (Math.max(0, top) * hop) / rate,
    fall: loop ? Infinity : ((fallen - Math.max(0, top)) * hop) / rate,
    ...spectrum,
    drop: dropOf(frames, length, rate),
  };
}

function spectrumOf(frames: Float32Array, length: number, rate: number) {
  const power = new Float64Array(SIZE / 2);
  const fft = new FFT(SIZE);
  const input = new Array<number>(SIZE).fill(0);
  const out = fft.createComplexArray() as number[];
  const count = Math.max(1, Math.min(24, Math.floor(length / (SIZE / 2))));
  let flat = 0;
  let weight = 0;
  for (let w = 0; w < count; w++) {
    const at = w * (SIZE / 2);
    for (let i = 0; i < SIZE; i++) {
      const shape = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / SIZE);
      // A sound that is shorter than a window is not windowed away.
      input[i] = at + i < length ? frames[at + i]! * (length < SIZE ? 1 : shape) : 0;
    }
    fft.realTransform(out, input);
    let sum = 0;
    let logs = 0;
    for (let k = 1; k < SIZE / 2; k++) {
      const p = out[2 * k]! ** 2 + out[2 * k + 1]! ** 2 + 1e-9;
      power[k] = power[k]! + p;
      sum += p;
      logs += Math.log(p);
    }
    const mean = sum / (SIZE / 2 - 1);
    flat += (Math.exp(logs / (SIZE / 2 - 1)) / mean) * sum;
    weight += sum;
  }
  let total = 0;
  let moment = 0;
  let [low, high] = [0, 0];
  for (let k = 1; k < SIZE / 2; k++) {
    const hz = (k * rate) / SIZE;
    total += power[k]!;
    moment += power[k]! * hz;
    if (hz < 150) low += power[k]!;
    if (hz > 4000) high += power[k]!;
  }
  let below = 0;
  let edge = 0;
  for (let k = 1; k < SIZE / 2 && below < 0.9 * total; k++) {
    below += power[k]!;
    edge = (k * rate) / SIZE;
  }
  const of = Math.max(total, 1e-12);
  return {
    centre: moment / of,
    edge,
    noise: weight > 0 ? flat / weight : 0,
    low: low / of,
    high: high / of,
  };
}

/** By crossings of zero: how much faster it begins than it goes on. */
function dropOf(frames: Float32Array, length: number, rate: number): number {
  const crossings = (from: number, to: number) => {
    let n = 0;
    const end = Math.min(length, Math.round(to * rate));
    const begin = Math.round(from * rate);
    for (let i = begin + 1; i < end; i++) if (frames[i - 1]! < 0 !== frames[i]! < 0) n++;
    return end > begin ? n / ((end - begin) / rate) : 0;
  };
  const early = crossings(0, 0.03);
  const late = crossings(0.07, 0.15);
  return early > 0 && late > 0 ? Math.max(0, Math.log2(early / late)) : 0;
}
