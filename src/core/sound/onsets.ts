import FFT from 'fft.js';
import type { Checkpoint } from '../diagnostic/checkpoint';
import { framesOf, mixInto, type Samples } from './samples';

/** Where something begins to sound, rising; how strongly, 1 for the strongest. */
export interface Onsets {
  readonly ms: Float64Array;
  readonly strength: Float32Array;
}

/** How much begins at each moment: one value every `hopMs`, the first at `fromMs`. */
export interface Novelty {
  readonly hopMs: number;
  readonly fromMs: number;
  readonly values: Float32Array;
}

const WINDOW_SECONDS = 0.023;
/** Hops in a window. */
const OVERLAP = 4;
const BANDS = 40;
const LOWEST_HZ = 60;
const HIGHEST_HZ = 14_000;
/** Frames back that a band is held against: about 12 ms. */
const BACK = 2;
const CHECK_EVERY = 512;
/** Samples a second; recordings of more are halved. */
const FULL_RATE_UP_TO = 32_000;
/** How loud a band must be to count, against full scale: below it changes say little. */
const FLOOR = 1e-4;

/** Edges of bands in bins, equally wide in pitch as far as the bins allow; each at least a bin. */
function bandEdges(rate: number, size: number): number[] {
  const top = Math.min(HIGHEST_HZ, rate * 0.48);
  const edges: number[] = [];
  for (let b = 0; b <= BANDS; b++) {
    const hz = LOWEST_HZ * (top / LOWEST_HZ) ** (b / BANDS);
    const bin = Math.round((hz * size) / rate);
    edges.push(b === 0 ? Math.max(1, bin) : Math.max(edges[b - 1]! + 1, bin));
  }
  return edges.map((e) => Math.min(e, size / 2));
}

/**
 * Spectral flux: how much louder each band of pitch became, logarithmically, summed. A band is held
 * against the loudest of its neighbours a little before, so that a tone that wavers is no beginning.
 */
export function noveltyOf(samples: Samples, checkpoint?: Checkpoint): Novelty {
  // Beginnings are heard as well at half the rate of a disc, in half the time.
  const half = samples.rate > FULL_RATE_UP_TO ? 2 : 1;
  const rate = samples.rate / half;
  const size = 2 ** Math.round(Math.log2(rate * WINDOW_SECONDS));
  const hop = size / OVERLAP;
  const fft = new FFT(size);
  const window = Float64Array.from(
    { length: size },
    (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / size),
  );
  const edges = bandEdges(rate, size);
  const scale = 4 / size;
  const frame = new Float32Array(size);
  const fresh = frame.subarray(size - hop);
  const doubled = half === 1 ? fresh : new Float32Array(hop * half);
  const input = new Array<number>(size).fill(0);
  const out = fft.createComplexArray() as number[];
  // The first windows hold nothing yet: what sounds at once begins there.
  const first = -size - (BACK - 1) * hop;
  const count = Math.max(0, Math.ceil((framesOf(samples) / half - first) / hop));
  const values = new Float32Array(count);
  const past = Array.from({ length: BACK + 1 }, () => new Float64Array(BANDS));
  for (let t = 0; t < count; t++) {
    if (t % CHECK_EVERY === 0) checkpoint?.(t, count);
    // Windows overlap: what was mixed for the one before is kept.
    frame.copyWithin(0, hop);
    mixInto(doubled, samples, (first + t * hop + size - hop) * half);
    if (half === 2)
      for (let i = 0; i < hop; i++) fresh[i] = (doubled[2 * i]! + doubled[2 * i + 1]!) / 2;
    for (let i = 0; i < size; i++) input[i] = frame[i]! * window[i]!;
    fft.realTransform(out, input);
    const now = past[t % past.length]!;
    for (let b = 0; b < BANDS; b++) {
      let power = 0;
      for (let k = edges[b]!; k < edges[b + 1]!; k++)
        power += out[k * 2]! * out[k * 2]! + out[k * 2 + 1]! * out[k * 2 + 1]!;
      now[b] = Math.log1p((Math.sqrt(power) * scale) / FLOOR);
    }
    if (t < BACK) continue;
    const before = past[(t - BACK) % past.length]!;
    let flux = 0;
    for (let b = 0; b < BANDS; b++) {
      const loudest = Math.max(before[b]!, before[b - 1] ?? 0, before[b + 1] ?? 0);
      if (now[b]! > loudest) flux += now[b]! - loudest;
    }
    values[t] = flux / BANDS;
  }
  return { hopMs: (hop * 1000) / rate, fromMs: ((first + size / 2) * 1000) / rate, values };
}

const MEAN_BEFORE_MS = 120;
const MEAN_BEHIND_MS = 60;
const PEAK_WITHIN_MS = 24;
const LEAST_GAP_MS = 32;
/** Above the mean around it, as a share of what the strongest beginnings have. */
const THRESHOLD = 0.085;

/** The peaks of novelty that stand above what is around them, each put to the millisecond. */
export function onsetsOf(samples: Samples, novelty: Novelty, checkpoint?: Checkpoint): Onsets {
  const { hopMs, fromMs, values } = novelty;
  const strong = nearTheTop(values);
  if (strong <= 0.02) return { ms: new Float64Array(0), strength: new Float32Array(0) };
  const before = Math.round(MEAN_BEFORE_MS / hopMs);
  const behind = Math.round(MEAN_BEHIND_MS / hopMs);
  const near = Math.max(1, Math.round(PEAK_WITHIN_MS / hopMs));
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!;
  const found: { ms: number; strength: number }[] = [];
  for (let t = 0; t < values.length; t++) {
    if (t % CHECK_EVERY === 0) checkpoint?.(t, values.length);
    const value = values[t]!;
    if (!isPeak(values, t, near)) continue;
    const from = Math.max(0, t - before);
    const to = Math.min(values.length, t + behind + 1);
    const mean = (sums[to]! - sums[from]!) / (to - from);
    if (value < mean + THRESHOLD * strong) continue;
    const ms = refined(samples, fromMs + t * hopMs);
    const strength = Math.min(1, (value - mean) / strong);
    const last = found.at(-1);
    if (last && ms - last.ms < LEAST_GAP_MS) {
      if (strength > last.strength) found[found.length - 1] = { ms, strength };
      continue;
    }
    found.push({ ms, strength });
  }
  return {
    ms: Float64Array.from(found, (f) => f.ms),
    strength: Float32Array.from(found, (f) => f.strength),
  };
}

/** What one in two hundred values exceeds. */
function nearTheTop(values: Float32Array): number {
  const sorted = Float32Array.from(values).sort();
  return sorted[Math.max(0, Math.floor(sorted.length * 0.995) - 1)] ?? 0;
}

function isPeak(values: Float32Array, at: number, near: number): boolean {
  const value = values[at]!;
  if (value <= 0) return false;
  for (let i = Math.max(0, at - near); i <= Math.min(values.length - 1, at + near); i++)
    if (values[i]! > value || (values[i] === value && i < at)) return false;
  return true;
}

const SEARCH_MS = 26;
const BLOCK_MS = 1;
/** Blocks before and behind a moment that are held against each other. */
const BLOCKS = 6;

/** The millisecond near a peak of novelty at which the sound rises most, against what was before. */
function refined(samples: Samples, nearMs: number): number {
  const { rate } = samples;
  const block = Math.max(1, Math.round((rate * BLOCK_MS) / 1000));
  const blockMs = (block * 1000) / rate;
  const half = Math.ceil(SEARCH_MS / blockMs);
  const count = 2 * (half + BLOCKS);
  const first = Math.round((nearMs * rate) / 1000) - (half + BLOCKS) * block;
  const piece = mixInto(new Float32Array(count * block + 1), samples, first);
  const energy = new Float64Array(count);
  for (let k = 0; k < count; k++)
    for (let i = k * block; i < (k + 1) * block; i++) {
      // The difference of neighbours: attacks are bright, and what hums on is not heard.
      const rise = piece[i + 1]! - piece[i]!;
      energy[k]! += rise * rise + 0.02 * piece[i]! * piece[i]!;
    }
  const quiet = 1e-9 * block;
  let best = 0;
  let at = half + BLOCKS;
  for (let k = BLOCKS; k <= count - BLOCKS; k++) {
    let [was, is] = [quiet, quiet];
    for (let i = 1; i <= BLOCKS; i++) {
      was += energy[k - i]!;
      is += energy[k + i - 1]!;
    }
    const rise = Math.log(is / was) * Math.sqrt(is);
    if (rise > best) {
      best = rise;
      at = k;
    }
  }
  return Math.max(0, ((first + at * block) * 1000) / rate);
}
