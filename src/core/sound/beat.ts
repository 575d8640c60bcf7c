import type { Novelty } from './onsets';

/** A beat that was estimated from a sound alone. */
export interface BeatEstimate {
  /** Beats a minute in the middle of the recording. */
  readonly bpm: number;
  /** The slowest and the fastest that stretches of it have; alike where the tempo is one. */
  readonly from: number;
  readonly to: number;
  /** 0 to 1: how likely these are beats, or every second of them, or the double; calibrated. */
  readonly confidence: number;
  readonly ms: Float64Array;
}

const SLOWEST_BPM = 40;
const FASTEST_BPM = 220;
/** Where people tap, where several tempos fit; and how far from it, in octaves. */
const LIKELIEST_BPM = 115;
const LIKELY_OCTAVES = 1;
/** How strongly an even distance of beats is held to. */
const EVENNESS = 40;
/** Tempos that are tried: what is confused with each other differs by such ratios. */
const RATIOS = [1, 2, 1 / 2, 3 / 2, 2 / 3, 3, 1 / 3, 4 / 3, 3 / 4];
const MOST_TRIED = 10;

/** Beats through a recording: tempos by how novelty agrees with itself later, each walked through it. */
export function beatsOf({ hopMs, fromMs, values }: Novelty): BeatEstimate | null {
  const n = values.length;
  const longest = Math.ceil(60_000 / SLOWEST_BPM / hopMs);
  if (n < longest * 3) return null;
  const env = lessMean(values, Math.round(500 / hopMs));
  const rms = Math.sqrt(env.reduce((a, b) => a + b * b, 0) / n);
  if (rms <= 1e-6) return null;
  for (let i = 0; i < n; i++) env[i]! /= rms;
  const periods = candidates(env, hopMs);
  const tried = periods.map((period) => walked(env, period, hopMs)).filter((w) => w !== null);
  if (tried.length === 0) return null;
  tried.sort((a, b) => b.value - a.value);
  const best = tried[0]!;
  const places = best.beats.map((t) => Math.max(0, fromMs + finest(env, t) * hopMs));
  const tempo = tempoOf(places);
  return {
    ...tempo,
    confidence: likely(best, (tempo.to - tempo.from) / tempo.bpm),
    ms: Float64Array.from(places),
  };
}

interface Walked {
  readonly period: number;
  readonly beats: readonly number[];
  /** How far what begins on the beats stands above what begins anywhere, in its own deviations. */
  readonly value: number;
  /** The same without what people like. */
  readonly z: number;
  /** By how much one beat is longer than the one before, as a share of it, in the middle. */
  readonly uneven: number;
}

/** Hands that play change from beat to beat by less; a walk that picks up what it finds by more. */
const UNEVEN = 0.05;

function unevenness(beats: readonly number[]): number {
  const gaps = beats.slice(1).map((t, i) => t - beats[i]!);
  const by = gaps.slice(1).map((g, i) => Math.abs(g / gaps[i]! - 1));
  return by.reduce((a, b) => a + Math.min(0.3, b), 0) / Math.max(1, by.length);
}

function walked(env: Float64Array, period: number, hopMs: number): Walked | null {
  const beats = walk(env, period);
  if (beats.length < 4) return null;
  const near = new Float64Array(env.length);
  let [mean, squares] = [0, 0];
  for (let t = 0; t < env.length; t++) {
    near[t] = peakNear(env, t);
    mean += near[t]!;
    squares += near[t]! * near[t]!;
  }
  mean /= env.length;
  const spread = Math.sqrt(Math.max(1e-9, squares / env.length - mean * mean));
  const on =
    beats.reduce((sum, t) => sum + Math.min(3 * spread + mean, near[t]!), 0) / beats.length;
  const z = ((on - mean) / spread) * Math.sqrt((beats.length * 1000) / (env.length * hopMs));
  const octaves = Math.log2(60_000 / (period * hopMs) / LIKELIEST_BPM);
  const liked = Math.exp(-0.5 * (octaves / LIKELY_OCTAVES) ** 2);
  const uneven = unevenness(beats.map((t) => finest(env, t)));
  return { period, beats, z, uneven, value: z * liked * Math.exp(-uneven / UNEVEN) };
}

/** Periods in hops at which novelty agrees best with itself, and those they are confused with. */
function candidates(env: Float64Array, hopMs: number): number[] {
  const n = env.length;
  const shortest = 60_000 / FASTEST_BPM / hopMs;
  const longest = 60_000 / SLOWEST_BPM / hopMs;
  const agreement = new Float64Array(Math.ceil(longest * 2) + 3);
  for (let lag = Math.floor(shortest / 2); lag < agreement.length; lag++) {
    let sum = 0;
    for (let i = lag; i < n; i++) sum += env[i]! * env[i - lag]!;
    agreement[lag] = sum / (n - lag);
  }
  const peaks: { period: number; value: number }[] = [];
  for (let lag = Math.ceil(shortest); lag <= longest; lag++) {
    const [a, b, c] = [agreement[lag - 1]!, agreement[lag]!, agreement[lag + 1]!];
    if (b < a || b <= c) continue;
    const twice = Math.max(...[-1, 0, 1].map((d) => agreement[lag * 2 + d] ?? 0));
    peaks.push({ period: finer(agreement, lag), value: b + 0.5 * twice });
  }
  peaks.sort((x, y) => y.value - x.value);
  const out: number[] = [];
  for (const { period } of peaks.slice(0, 4))
    for (const ratio of RATIOS) {
      const p = period * ratio;
      if (p < shortest || p > longest) continue;
      if (!out.some((o) => Math.abs(Math.log2(o / p)) < 0.03)) out.push(p);
    }
  return out.slice(0, MOST_TRIED * 2);
}

/** What stands above the mean around it. */
function lessMean(values: Float32Array, half: number): Float64Array {
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!;
  return Float64Array.from(values, (value, i) => {
    const from = Math.max(0, i - half);
    const to = Math.min(values.length, i + half + 1);
    return Math.max(0, value - (sums[to]! - sums[from]!) / (to - from));
  });
}

const peakNear = (env: Float64Array, t: number) =>
  Math.max(env[t - 1] ?? 0, env[t] ?? 0, env[t + 1] ?? 0);

/** The top of the parabola through a peak and its neighbours. */
function finer(values: Float64Array, at: number): number {
  const [a, b, c] = [values[at - 1] ?? 0, values[at]!, values[at + 1] ?? 0];
  const bend = a - 2 * b + c;
  return bend < 0 ? at + Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : at;
}

/** The peak nearest to a beat, to parts of a hop; the beat itself where none is near. */
function finest(env: Float64Array, t: number): number {
  for (const d of [0, -1, 1, -2, 2]) {
    const k = t + d;
    if ((env[k] ?? 0) > 0 && env[k]! >= (env[k - 1] ?? 0) && env[k]! >= (env[k + 1] ?? 0))
      return finer(env, k);
  }
  return t;
}

/** The row of moments about a period apart that gathers most: dynamic programming over the last. */
function walk(env: Float64Array, period: number): number[] {
  const n = env.length;
  const score = Float64Array.from(env);
  const back = new Int32Array(n).fill(-1);
  const from = Math.max(1, Math.round(period * 0.7));
  const to = Math.max(from + 1, Math.round(period * 1.4));
  const cost = new Float64Array(to + 1);
  for (let d = from; d <= to; d++) cost[d] = -EVENNESS * Math.log(d / period) ** 2;
  for (let t = 0; t < n; t++) {
    let best = 0;
    for (let d = from; d <= Math.min(to, t); d++) {
      const said = score[t - d]! + cost[d]!;
      if (said > best) {
        best = said;
        back[t] = t - d;
      }
    }
    score[t] = Math.min(3, env[t]!) + best;
  }
  let at = n - 1;
  for (let t = Math.max(0, n - to); t < n; t++) if (score[t]! > score[at]!) at = t;
  const beats: number[] = [];
  for (; at >= 0; at = back[at]!) beats.push(at);
  beats.reverse();
  // Before the music begins and behind its end nothing beats.
  const sounds = (t: number) => peakNear(env, t) > 0.3;
  const first = beats.findIndex(sounds);
  const last = beats.findLastIndex(sounds);
  return first < 0 ? [] : beats.slice(first, last + 1);
}

/** Beats in a stretch whose tempo is told. */
const STRETCH = 16;

/** Beats a minute by straight lines through stretches of beats, to less than a tenth. */
function tempoOf(ms: readonly number[]): { bpm: number; from: number; to: number } {
  const size = Math.min(STRETCH, ms.length);
  const slopes: number[] = [];
  for (let from = 0; from + size <= ms.length; from += Math.max(1, size >> 1))
    slopes.push(60_000 / slopeOf(ms.slice(from, from + size)));
  slopes.sort((a, b) => a - b);
  const at = (share: number) => slopes[Math.round((slopes.length - 1) * share)]!;
  const [from, to] = [at(0.1), at(0.9)];
  // At one tempo all beats tell it together.
  const bpm = to - from < 0.02 * from ? 60_000 / slopeOf(ms) : at(0.5);
  return { bpm, from: Math.min(from, bpm), to: Math.max(to, bpm) };
}

function slopeOf(ms: readonly number[]): number {
  const middle = (ms.length - 1) / 2;
  const mean = ms.reduce((a, b) => a + b, 0) / ms.length;
  let [sxx, sxy] = [0, 0];
  ms.forEach((y, x) => {
    sxx += (x - middle) ** 2;
    sxy += (x - middle) * (y - mean);
  });
  return sxy / sxx;
}

/** Of beats that were right none was more uneven, and few stood out less. */
const EVEN_ENOUGH = 0.052;
const STANDS_OUT = 0.9;
/** A tempo that changes by more is followed at another one as easily. */
const ONE_TEMPO = 0.18;

/** How likely beats are right, by what was seen on songs at hand (`npm run bench sound`). */
function likely({ uneven, z }: Walked, range: number): number {
  const logistic = (x: number) => 1 / (1 + Math.exp(-x));
  return (
    logistic(150 * (EVEN_ENOUGH - uneven)) *
    logistic(5 * (z - STANDS_OUT)) *
    logistic(40 * (ONE_TEMPO - range))
  );
}
