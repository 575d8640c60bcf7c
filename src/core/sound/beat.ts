import type { Novelty } from './onsets';

/** A beat that was estimated from a sound alone. */
export interface BeatEstimate {
  readonly bpm: number;
  /** 0 to 1: how much more begins on the beats than between them. */
  readonly confidence: number;
  readonly ms: Float64Array;
}

const SLOWEST_BPM = 40;
const FASTEST_BPM = 220;
/** Where people tap, where several tempos fit. */
const LIKELIEST_BPM = 120;
/** How strongly an even distance of beats is held to. */
const EVENNESS = 60;

/** The tempo by how novelty agrees with itself later; the beats by the best even walk through it. */
export function beatsOf({ hopMs, fromMs, values }: Novelty): BeatEstimate | null {
  const n = values.length;
  const shortest = Math.max(2, Math.floor(60_000 / FASTEST_BPM / hopMs));
  const longest = Math.ceil(60_000 / SLOWEST_BPM / hopMs);
  if (n < longest * 3) return null;
  const env = lessMean(values, Math.round(500 / hopMs));
  const total = env.reduce((a, b) => a + b * b, 0);
  if (total <= 1e-9) return null;
  const agreement = new Float64Array(longest * 2 + 2);
  for (let lag = shortest; lag < agreement.length; lag++) {
    let sum = 0;
    for (let i = lag; i < n; i++) sum += env[i]! * env[i - lag]!;
    agreement[lag] = sum / total / (1 - lag / n);
  }
  let best = 0;
  let period = 0;
  for (let lag = shortest; lag <= longest; lag++) {
    const octaves = Math.log2(60_000 / (lag * hopMs) / LIKELIEST_BPM);
    // A beat agrees with itself after two and is not split evenly by what is stronger.
    const said = agreement[lag]! + 0.5 * agreement[lag * 2]!;
    const score = said * Math.exp(-0.5 * (octaves / 0.9) ** 2);
    if (score > best) {
      best = score;
      period = lag;
    }
  }
  if (period === 0) return null;
  const beats = walk(env, finer(agreement, period));
  if (beats.length < 3) return null;
  const on = beats.reduce((sum, t) => sum + peakNear(env, t), 0) / beats.length;
  const all = Math.sqrt(total / n);
  const ms = Float64Array.from(beats, (t) => fromMs + t * hopMs).filter((t) => t >= 0);
  const gaps = ms
    .slice(1)
    .map((t, i) => t - ms[i]!)
    .sort();
  const middle = gaps[gaps.length >> 1]!;
  return {
    bpm: 60_000 / middle,
    confidence: Math.max(0, Math.min(1, (on / all - 0.6) / 3)),
    ms,
  };
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
  Math.max(env[t - 2] ?? 0, env[t - 1] ?? 0, env[t] ?? 0, env[t + 1] ?? 0, env[t + 2] ?? 0);

/** The top of the parabola through a peak and its neighbours. */
function finer(values: Float64Array, at: number): number {
  const [a, b, c] = [values[at - 1]!, values[at]!, values[at + 1]!];
  const bend = a - 2 * b + c;
  return bend < 0 ? at + (0.5 * (a - c)) / bend : at;
}

/** The row of moments about a period apart that gathers most: dynamic programming over the last. */
function walk(env: Float64Array, period: number): number[] {
  const n = env.length;
  const score = Float64Array.from(env);
  const back = new Int32Array(n).fill(-1);
  const from = Math.round(period / 2);
  const to = Math.round(period * 2);
  const scale = 1 / Math.sqrt(env.reduce((a, b) => a + b * b, 0) / n || 1);
  const cost = new Float64Array(to + 1);
  for (let d = Math.max(1, from); d <= to; d++)
    cost[d] = -EVENNESS * Math.log(d / period) ** 2 * 0.2;
  for (let t = 0; t < n; t++) {
    let best = 0;
    for (let d = Math.max(1, from); d <= Math.min(to, t); d++) {
      const said = score[t - d]! + cost[d]!;
      if (said > best) {
        best = said;
        back[t] = t - d;
      }
    }
    score[t] = env[t]! * scale + best;
  }
  let at = n - 1;
  for (let t = Math.max(0, n - to); t < n; t++) if (score[t]! > score[at]!) at = t;
  const beats: number[] = [];
  for (; at >= 0; at = back[at]!) beats.push(at);
  return beats.reverse();
}
