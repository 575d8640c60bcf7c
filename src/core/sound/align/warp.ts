import type { Checkpoint } from '../../diagnostic/checkpoint';
import { BANDS, CLASSES, SIZE, type Features } from './frames';

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
const LEAST = 0.75;
const MOST = 3;
/** What a step costs that is not along the diagonal. */
const ASKEW = 0.12;
/** What it costs to go on elsewhere: so much better, summed, must the music be there. */
const JUMP = 14;
/** What each frame costs that is passed over by a jump, and at either end of both. */
const PASSED = 0.02;

/** How alike each frame of the one is to each of the other, in deviations from the mean of all. */
export function likeness(a: Features, b: Features, checkpoint?: Checkpoint): Float32Array {
  const [n, m] = [a.frames, b.frames];
  const out = new Float32Array(n * m);
  let [sum, squares] = [0, 0];
  for (let i = 0; i < n; i++) {
    if (i % 64 === 0) checkpoint?.(i, n);
    const x = a.values.subarray(i * SIZE, (i + 1) * SIZE);
    for (let j = 0; j < m; j++) {
      const y = j * SIZE;
      let [tones, begins, noise] = [0, 0, 0];
      for (let k = 0; k < CLASSES; k++) {
        tones += x[k]! * b.values[y + k]!;
        begins += x[CLASSES + k]! * b.values[y + CLASSES + k]!;
      }
      for (let k = CLASSES * 2; k < CLASSES * 2 + BANDS; k++) noise += x[k]! * b.values[y + k]!;
      const alike = TONES * tones + BEGINNINGS * begins + NOISE * noise;
      out[i * m + j] = alike;
      sum += alike;
      squares += alike * alike;
    }
  }
  const mean = sum / (n * m);
  const deviation = Math.sqrt(Math.max(1e-9, squares / (n * m) - mean * mean));
  for (let k = 0; k < out.length; k++)
    out[k] = Math.max(-MOST, Math.min(MOST, (out[k]! - mean) / deviation)) - LEAST;
  return out;
}

const [START, STRAIGHT, SLOW, QUICK, OVER_SOUND, OVER_SCORE] = [0, 1, 2, 3, 4, 5];

/**
 * The way through score and sound along which they are most alike, beginning and ending anywhere in
 * both, with jumps where bars are missing or come more often. Time and one byte for each pair of
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
  const from = new Uint8Array(n * m);
  // Where a jump came from: the best column so far in a row, the best row so far in a column.
  const overSound = new Int32Array(n * m);
  const overScore = new Int32Array(n * m);
  let before = new Float64Array(m).fill(-Infinity);
  let older = new Float64Array(m).fill(-Infinity);
  const inColumn = new Float64Array(m).fill(-Infinity);
  const inColumnAt = new Int32Array(m).fill(-1);
  let best = { value: 0, i: -1, j: -1 };
  for (let i = 0; i < n; i++) {
    if (i % 64 === 0) checkpoint?.(i, n);
    const row = new Float64Array(m);
    let inRow = -Infinity;
    let inRowAt = -1;
    for (let j = 0; j < m; j++) {
      const at = i * m + j;
      const gain = alike[at]!;
      let value = -PASSED * (i + j);
      let way = START;
      const take = (said: number, by: number) => {
        if (said > value) {
          value = said;
          way = by;
        }
      };
      if (j >= 1) take(before[j - 1]!, STRAIGHT);
      // Two frames of the one beside one of the other: the one that is stepped over counts half.
      if (j >= 2) take(before[j - 2]! + 0.5 * alike[at - 1]! - ASKEW, SLOW);
      if (j >= 1) take(older[j - 1]! + 0.5 * alike[at - m]! - ASKEW, QUICK);
      if (j >= 2 && inRow > -Infinity) {
        take(inRow - JUMP - PASSED * j, OVER_SOUND);
        overSound[at] = inRowAt;
      }
      if (j >= 1 && inColumn[j - 1]! > -Infinity) {
        take(inColumn[j - 1]! - JUMP - PASSED * i, OVER_SCORE);
        overScore[at] = inColumnAt[j - 1]!;
      }
      row[j] = value + gain;
      from[at] = way;
      // Of the row before, what a later frame of the sound may jump from.
      if (j >= 1 && before[j - 1]! + PASSED * (j - 1) > inRow) {
        inRow = before[j - 1]! + PASSED * (j - 1);
        inRowAt = j - 1;
      }
      const end = row[j]! - PASSED * (n - 1 - i + m - 1 - j);
      if (end > best.value || best.i < 0) best = { value: end, i, j };
    }
    // Of each column, what a later frame of the score may jump from.
    for (let j = 0; j < m; j++)
      if (before[j]! + PASSED * (i - 1) > inColumn[j]!) {
        inColumn[j] = before[j]! + PASSED * (i - 1);
        inColumnAt[j] = i - 1;
      }
    older = before;
    before = row;
  }
  return trace(from, overSound, overScore, m, best, hopMs);
}

function trace(
  from: Uint8Array,
  overSound: Int32Array,
  overScore: Int32Array,
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
    const at = i * m + j;
    const way = from[at];
    if (way === START) break;
    if (way === STRAIGHT) [i, j] = [i - 1, j - 1];
    else if (way === SLOW) [i, j] = [i - 1, j - 2];
    else if (way === QUICK) [i, j] = [i - 2, j - 1];
    else {
      const [toI, toJ] = way === OVER_SOUND ? [i - 1, overSound[at]!] : [overScore[at]!, j - 1];
      close();
      [i, j] = [toI, toJ];
    }
  }
  close();
  return { hopMs, stretches: stretches.reverse(), value: best.value, length };
}
