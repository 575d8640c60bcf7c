import type { Checkpoint } from '../../diagnostic/checkpoint';
import { CLASSES, SIZE, type Features } from './frames';

/** A stretch of score and sound that go along with each other: frames of both, rising. */
export interface Stretch {
  readonly score: Int32Array;
  readonly sound: Int32Array;
}

export interface Warp {
  readonly hopMs: number;
  readonly stretches: readonly Stretch[];
  /** How much better it is than chance, summed over its frames. */
  readonly value: number;
  /** Frames of the score that go along. */
  readonly length: number;
}

/** What a third of a frame counts: tones, beginnings by pitch, beginnings of noise. */
const TONES = 1;
const BEGINNINGS = 0.9;
const NOISE = 0.5;
/** A frame that is no more alike than this many deviations above the mean says nothing for the pair. */
const LEAST = 1;
/** Of drums alone, whose three bands are seldom so much more alike than the others. */
const LEAST_OF_DRUMS = 0.75;
/** In as many frames something with a pitch sounds, else drums play alone. */
const PITCHED = 0.15;
const MOST = 3;
/** What a step costs that is not along the diagonal. */
const ASKEW = 0.12;
/** What it costs to go on elsewhere: so much better, summed, must the music be there. */
const JUMP = 14;
/** What each frame costs that is passed over by a jump, and at either end of both. */
const PASSED = 0.02;

/** Of places that are as alike a recording begins rather where the score does: what it costs at most. */
const LATER = 3;

const WEIGHTS = Float64Array.from({ length: SIZE }, (_, k) =>
  k < CLASSES ? TONES : k < CLASSES * 2 ? BEGINNINGS : NOISE,
);

/** One value of all frames, for each value. */
const byValue = ({ values, frames }: Features) =>
  Array.from({ length: SIZE }, (_, k) =>
    Float32Array.from({ length: frames }, (_, t) => values[t * SIZE + k]!),
  );

/** How strong each value is in the mean of all frames, weighed. */
function meanOf({ values, frames }: Features): Float64Array {
  const out = new Float64Array(SIZE);
  for (let t = 0; t < frames; t++) for (let k = 0; k < SIZE; k++) out[k]! += values[t * SIZE + k]!;
  for (let k = 0; k < SIZE; k++) out[k]! *= WEIGHTS[k]! / Math.max(1, frames);
  return out;
}

const hasTones = ({ values, frames }: Features): boolean => {
  let sounding = 0;
  for (let t = 0; t < frames; t++) {
    let tones = 0;
    for (let k = 0; k < CLASSES; k++) tones += values[t * SIZE + k]!;
    if (tones > 0) sounding++;
  }
  return sounding > PITCHED * frames;
};

/** How alike each frame is to what is meant by `mean`. */
const alikeTo = ({ values, frames }: Features, mean: Float64Array) =>
  Float64Array.from({ length: frames }, (_, t) => {
    let sum = 0;
    for (let k = 0; k < SIZE; k++) sum += mean[k]! * values[t * SIZE + k]!;
    return sum;
  });

/**
 * How alike each frame of the one is to each of the other, beyond what both are to any: where only
 * drums play, or little, frames are less alike to all, and are no less the right ones for that. In
 * deviations from the mean of all.
 */
export function likeness(a: Features, b: Features, checkpoint?: Checkpoint): Float32Array {
  const [n, m] = [a.frames, b.frames];
  const out = new Float32Array(n * m);
  const columns = byValue(b);
  const silent = new Float32Array(m);
  const row = new Float64Array(m);
  const weights = new Float64Array(SIZE + 3);
  const held: Float32Array[] = [];
  // Of drums alone how much they are alike to any is nearly all there is.
  const pitched = hasTones(a);
  const ofRow = pitched ? alikeTo(a, meanOf(b)) : new Float64Array(n);
  const ofColumn = pitched ? alikeTo(b, meanOf(a)) : new Float64Array(m);
  const least = pitched ? LEAST : LEAST_OF_DRUMS;
  let [sum, squares] = [0, 0];
  for (let i = 0; i < n; i++) {
    if (i % 64 === 0) checkpoint?.(i, n);
    row.fill(0);
    // Most tones of a frame are silent: only those that sound are held against the others, four a pass.
    let sounding = 0;
    for (let k = 0; k < SIZE; k++) {
      const x = a.values[i * SIZE + k]! * WEIGHTS[k]!;
      if (x === 0) continue;
      weights[sounding] = x;
      held[sounding++] = columns[k]!;
    }
    for (let k = sounding; k < sounding + 3; k++) {
      weights[k] = 0;
      held[k] = silent;
    }
    for (let k = 0; k < sounding; k += 4) {
      const [w0, w1, w2, w3] = [weights[k]!, weights[k + 1]!, weights[k + 2]!, weights[k + 3]!];
      const [c0, c1, c2, c3] = [held[k]!, held[k + 1]!, held[k + 2]!, held[k + 3]!];
      for (let j = 0; j < m; j++) row[j]! += w0 * c0[j]! + w1 * c1[j]! + w2 * c2[j]! + w3 * c3[j]!;
    }
    for (let j = 0; j < m; j++) {
      const alike = (row[j]! -= ofRow[i]! + ofColumn[j]!);
      sum += alike;
      squares += alike * alike;
    }
    out.set(row, i * m);
  }
  const mean = sum / (n * m);
  const deviation = Math.sqrt(Math.max(1e-9, squares / (n * m) - mean * mean));
  for (let k = 0; k < out.length; k++) {
    const by = (out[k]! - mean) / deviation;
    out[k] = (by > MOST ? MOST : by < -MOST ? -MOST : by) - least;
  }
  return out;
}

const [START, STRAIGHT, SLOW, QUICK, OVER_SOUND, OVER_SCORE] = [0, 1, 2, 3, 4, 5];

/** A way and, of a jump, the frame that it came from, in one number: it has so many low bits. */
const WAY_BITS = 3;
const WAY = (1 << WAY_BITS) - 1;

/**
 * The way through score and sound along which they are most alike, beginning and ending anywhere in
 * both, with jumps where bars are missing or come more often. Time and one number for each pair of
 * frames.
 *
 * @param alike rows are frames of the score
 */
export function warp(
  alike: Float32Array,
  n: number,
  m: number,
  hopMs: number,
  checkpoint?: Checkpoint,
): Warp {
  const from = new Int32Array(n * m);
  let row = new Float64Array(m);
  let before = new Float64Array(m).fill(-Infinity);
  let older = new Float64Array(m).fill(-Infinity);
  const inColumn = new Float64Array(m).fill(-Infinity);
  const inColumnAt = new Int32Array(m).fill(-1);
  let best = { value: 0, i: -1, j: -1 };
  for (let i = 0; i < n; i++) {
    if (i % 64 === 0) checkpoint?.(i, n);
    // Where a jump came from: the best column so far in a row, the best row so far in a column.
    let inRow = -Infinity;
    let inRowAt = -1;
    // What stands at the columns before this one.
    let [before1, before2, older1, column1] = [-Infinity, -Infinity, -Infinity, -Infinity];
    let alike1 = 0;
    const base = i * m;
    const toEnd = PASSED * (n - 1 - i + m - 1);
    const later = Math.min(LATER, PASSED * i);
    for (let j = 0; j < m; j++) {
      const gain = alike[base + j]!;
      const above = i === 0 ? 0 : alike[base - m + j]!;
      let value = -PASSED * (i + j) - later;
      let way = START;
      if (before1 > value) {
        value = before1;
        way = STRAIGHT;
      }
      // Two frames of the one beside one of the other: the one that is stepped over counts half.
      const slow = before2 + 0.5 * alike1 - ASKEW;
      if (slow > value) {
        value = slow;
        way = SLOW;
      }
      const quick = older1 + 0.5 * above - ASKEW;
      if (quick > value) {
        value = quick;
        way = QUICK;
      }
      const overSound = inRow - JUMP - PASSED * j;
      if (overSound > value) {
        value = overSound;
        way = OVER_SOUND | (inRowAt << WAY_BITS);
      }
      const overScore = column1 - JUMP - PASSED * i;
      if (overScore > value) {
        value = overScore;
        way = OVER_SCORE | (inColumnAt[j - 1]! << WAY_BITS);
      }
      value += gain;
      row[j] = value;
      from[base + j] = way;
      // Of the row before, what a later frame of the sound may jump from.
      if (before1 + PASSED * (j - 1) > inRow) {
        inRow = before1 + PASSED * (j - 1);
        inRowAt = j - 1;
      }
      const end = value - toEnd + PASSED * j;
      if (end > best.value || best.i < 0) best = { value: end, i, j };
      before2 = before1;
      before1 = before[j]!;
      older1 = older[j]!;
      column1 = inColumn[j]!;
      alike1 = gain;
    }
    // Of each column, what a later frame of the score may jump from.
    const passed = PASSED * (i - 1);
    for (let j = 0; j < m; j++)
      if (before[j]! + passed > inColumn[j]!) {
        inColumn[j] = before[j]! + passed;
        inColumnAt[j] = i - 1;
      }
    [older, before, row] = [before, row, older];
  }
  return trace(from, m, best, hopMs);
}

function trace(
  from: Int32Array,
  m: number,
  best: { value: number; i: number; j: number },
  hopMs: number,
): Warp {
  const stretches: Stretch[] = [];
  let score: number[] = [];
  let sound: number[] = [];
  let length = 0;
  const close = () => {
    if (score.length > 1)
      stretches.push({
        score: Int32Array.from(score.reverse()),
        sound: Int32Array.from(sound.reverse()),
      });
    length += score.length;
    [score, sound] = [[], []];
  };
  let { i, j } = best;
  while (i >= 0 && j >= 0) {
    score.push(i);
    sound.push(j);
    const kept = from[i * m + j]!;
    const way = kept & WAY;
    if (way === START) break;
    if (way === STRAIGHT) [i, j] = [i - 1, j - 1];
    else if (way === SLOW) [i, j] = [i - 1, j - 2];
    else if (way === QUICK) [i, j] = [i - 2, j - 1];
    else {
      const over = kept >> WAY_BITS;
      const [toI, toJ] = way === OVER_SOUND ? [i - 1, over] : [over, j - 1];
      close();
      [i, j] = [toI, toJ];
    }
  }
  close();
  return { hopMs, stretches: stretches.reverse(), value: best.value, length };
}
