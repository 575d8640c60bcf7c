import type { Checkpoint } from '../diagnostic/checkpoint';
import { FLUX_HOP_MS, fluxOf, QUICK, SLOW } from './flux';
import { mixInto, sidesOf, type Samples } from './samples';

/** Where something begins to sound, rising; how strongly, 1 for the strongest. */
export interface Onsets {
  readonly ms: Float64Array;
  readonly strength: Float32Array;
}

/** How much begins at each moment: one value every `hopMs`, the first at `fromMs`. */
export interface Novelty {
  readonly hopMs: number;
  readonly fromMs: number;
  /** Of both windows together, at the moment itself. */
  readonly values: Float32Array;
  /** By the long window and by the short one; what begins strongly is about 1. */
  readonly slow: Float32Array;
  readonly quick: Float32Array;
  /** 0 to 1: whether what the short window says are beginnings; held tones that beat are none. */
  readonly trust: number;
  /** What rises by less of what is strong begins nowhere: held tones that beat do. */
  readonly least: number;
}

/** A short window that says something all the time says nothing. */
const CALM = 0.1;
const RESTLESS = 0.2;
const STRONGEST = 2;
/** By how much bands rise together, in the mean, where held tones beat against each other. */
const LEAST_RISE = 0.012;

export function noveltyOf(samples: Samples, checkpoint?: Checkpoint): Novelty {
  const sides = sidesOf(samples);
  const part = (from: number, share: number): Checkpoint | undefined =>
    checkpoint && ((done, total) => checkpoint(from + (share * done) / Math.max(1, total), 1));
  const { row: slow, by } = levelled(fluxOf(sides, SLOW, part(0, 0.7)));
  const { row: quick, mean } = levelled(fluxOf(sides, QUICK, part(0.7, 0.3)));
  const trust = Math.max(0, Math.min(1, (RESTLESS - mean) / (RESTLESS - CALM)));
  // A long window hears a beginning early, by its far end; a short one a little late, by its rise.
  const values = slow.map((_, i) => (slow[i - 1] ?? 0) + trust * (quick[i + 1] ?? 0));
  return { hopMs: FLUX_HOP_MS, fromMs: 0, values, slow, quick, trust, least: LEAST_RISE / by };
}

/** A row in which what begins strongly is about 1, and its mean. */
function levelled(values: Float32Array): { row: Float32Array; mean: number; by: number } {
  const sorted = values.slice().sort();
  const strong = sorted[Math.max(0, Math.floor(values.length * 0.985) - 1)] ?? 0;
  // Where little begins at all only the strongest tells how strong it is.
  const top = sorted.at(-1) ?? 0;
  const by = Math.max(strong, top * 0.2, 1e-4);
  const sum = values.reduce((a, b) => a + b, 0);
  const mean = sum / Math.max(1, values.length) / Math.max(strong, top * 0.05, 1e-4);
  return { row: values.map((v) => Math.min(STRONGEST, v / by)), mean, by };
}

const MEAN_BEFORE_MS = 100;
const MEAN_BEHIND_MS = 70;
const SLOW_APART_MS = 30;
const QUICK_APART_MS = 24;
/** Above the mean around it, as a share of what is strong here and in all of it. */
const SLOW_THRESHOLD = 0.06;
const QUICK_THRESHOLD = 0.08;
/** In so long what was strong is half as strong for what follows. */
const HALF_MS = 3000;
/** The two windows mean the same beginning. */
const SAME_MS = 45;
const APART_MS = 30;
/** The middle of what a long window says lies so much before a beginning. */
const EARLY_MS = 6;
const CHECK_EVERY = 512;

/** The beginnings that both windows tell of, each put to the millisecond where it is sharp. */
export function onsetsOf(samples: Samples, novelty: Novelty, checkpoint?: Checkpoint): Onsets {
  const { slow, quick, trust } = novelty;
  const sides = sidesOf(samples);
  const calm = peaksOf(slow, SLOW_THRESHOLD, SLOW_APART_MS, novelty.least);
  const sharp = trust === 0 ? [] : peaksOf(quick, QUICK_THRESHOLD / trust, QUICK_APART_MS, 0);
  const found: { ms: number; strength: number }[] = [];
  const used = new Set<number>();
  let from = 0;
  const sharpMs = (t: number) => refined(sides, t * FLUX_HOP_MS - LATE_MS);
  calm.forEach((t, n) => {
    if (n % CHECK_EVERY === 0) checkpoint?.(n, calm.length);
    while (from < sharp.length && (sharp[from]! - t) * FLUX_HOP_MS < -SAME_MS) from++;
    let same = -1;
    for (let k = from; k < sharp.length && (sharp[k]! - t) * FLUX_HOP_MS <= SAME_MS; k++) {
      const nearer = same < 0 || Math.abs(sharp[k]! - t) < Math.abs(sharp[same]! - t);
      if (!used.has(k) && nearer) same = k;
    }
    if (same >= 0) used.add(same);
    const ms = same < 0 ? t * FLUX_HOP_MS + EARLY_MS : sharpMs(sharp[same]!);
    const more = same < 0 ? 0 : trust * quick[sharp[same]!]!;
    found.push({ ms, strength: Math.min(1, Math.max(slow[t]!, more)) });
  });
  if (trust > 0.5)
    sharp.forEach((t, k) => {
      if (used.has(k) || isNear(calm, t, APART_MS / FLUX_HOP_MS)) return;
      found.push({ ms: sharpMs(t), strength: Math.min(1, trust * quick[t]!) });
    });
  found.sort((a, b) => a.ms - b.ms);
  const apart = found.filter(({ ms }, i) => i === 0 || ms - found[i - 1]!.ms >= APART_MS / 2);
  return {
    ms: Float64Array.from(apart, (f) => f.ms),
    strength: Float32Array.from(apart, (f) => f.strength),
  };
}

function isNear(rising: readonly number[], at: number, within: number): boolean {
  let [low, high] = [0, rising.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (rising[mid]! < at - within) low = mid + 1;
    else high = mid;
  }
  return low < rising.length && rising[low]! < at + within;
}

/** The strongest values within some milliseconds that stand above what is around them. */
function peaksOf(
  values: Float32Array,
  threshold: number,
  apartMs: number,
  least: number,
): number[] {
  const near = Math.round(apartMs / FLUX_HOP_MS);
  const before = Math.round(MEAN_BEFORE_MS / FLUX_HOP_MS);
  const behind = Math.round(MEAN_BEHIND_MS / FLUX_HOP_MS);
  const local = lately(values);
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!;
  const out: number[] = [];
  for (let t = 0; t < values.length; t++) {
    if (!isPeak(values, t, near)) continue;
    const from = Math.max(0, t - before);
    const to = Math.min(values.length, t + behind + 1);
    const mean = (sums[to]! - sums[from]!) / (to - from);
    const above = Math.max(least, threshold * (0.5 + 0.5 * local[t]!));
    if (values[t]! >= mean + above) out.push(t);
  }
  return out;
}

/** What was, or will be, strong around each moment; it is forgotten by and by. */
function lately(values: Float32Array): Float32Array {
  const fades = 0.5 ** (FLUX_HOP_MS / HALF_MS);
  const out = new Float32Array(values.length);
  let most = 0;
  for (let t = 0; t < values.length; t++) {
    most = Math.max(most * fades, values[t]!);
    out[t] = most;
  }
  most = 0;
  for (let t = values.length - 1; t >= 0; t--) {
    most = Math.max(most * fades, values[t]!);
    out[t] = Math.max(out[t]!, most);
  }
  return out;
}

function isPeak(values: Float32Array, at: number, near: number): boolean {
  const value = values[at]!;
  if (value <= 0) return false;
  for (let i = Math.max(0, at - near); i <= Math.min(values.length - 1, at + near); i++)
    if (values[i]! > value || (values[i] === value && i < at)) return false;
  return true;
}

/** By what a short window lies late, and how far off that may be. */
const LATE_MS = 8;
const SEARCH_MS = 14;
const BLOCK_MS = 1;
/** Blocks before and behind a moment that are held against each other. */
const BLOCKS = 6;

/** The millisecond near a peak of novelty at which the sound rises most, against what was before. */
function refined(sides: readonly Samples[], nearMs: number): number {
  const { rate } = sides[0]!;
  const block = Math.max(1, Math.round((rate * BLOCK_MS) / 1000));
  const blockMs = (block * 1000) / rate;
  const half = Math.ceil(SEARCH_MS / blockMs);
  const count = 2 * (half + BLOCKS);
  const first = Math.round((nearMs * rate) / 1000) - (half + BLOCKS) * block;
  const energy = new Float64Array(count);
  const piece = new Float32Array(count * block + 1);
  for (const side of sides) {
    mixInto(piece, side, first);
    for (let k = 0; k < count; k++)
      for (let i = k * block; i < (k + 1) * block; i++) {
        // The difference of neighbours: attacks are bright, and what hums on is not heard.
        const rise = piece[i + 1]! - piece[i]!;
        energy[k]! += rise * rise + 0.02 * piece[i]! * piece[i]!;
      }
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
