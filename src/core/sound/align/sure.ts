import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { FeatureNote } from './features';
import { type Features, backwards, bandsTurned, coarser, transposed } from './frames';
import { type Warp, likeness, warp } from './warp';
import type { Alignment, Doubt } from './alignment';

/** Pairs of frames that are held against each other at once: memory and time are bounded by them. */
export const MOST_PAIRS = 8_000_000;

/** And for each of the wrong ways. */
const FEW_PAIRS = 900_000;

const WRONG_KEYS = [1, -1, 6];

/** Nearer than that to the way that was found another is the same. */
const SAME_PLACE_MS = 1200;

const step = (n: number, m: number, most: number): number =>
  Math.max(1, Math.ceil(Math.sqrt((n * m) / most)));

export function waysOf(score: Features, sound: Features, most: number, checkpoint?: Checkpoint) {
  const by = step(score.frames, sound.frames, most);
  const [a, b] = [coarser(score, by), coarser(sound, by)];
  const alike = likeness(a, b, checkpoint);
  return { a, b, alike, found: warp(alike, a.frames, b.frames, a.hopMs, checkpoint) };
}

/** Takes a way and all that lie beside it out of what may be found. */
function without(alike: Float32Array, m: number, { stretches, hopMs }: Warp): Float32Array {
  const out = alike.slice();
  const reach = Math.ceil(SAME_PLACE_MS / hopMs);
  for (const { score, sound } of stretches)
    score.forEach((i, k) => {
      for (let j = Math.max(0, sound[k]! - reach); j <= Math.min(m - 1, sound[k]! + reach); j++)
        out[i * m + j] = -3;
    });
  return out;
}

/** Of as many notes one must have a pitch for keys to say something. */
const PITCHED = 0.15;

export const isPitched = (notes: readonly FeatureNote[]) =>
  notes.filter((n) => !n.drum).length > PITCHED * notes.length;

/** What a way is worth a frame where nothing goes along. */
const BY_CHANCE = 0.1;

/**
 * How much better the way is than the best wrong one, the score backwards or in other keys, and than the
 * best at another place; all in as few frames, so that they are held against each other.
 */
export function betterThan(
  score: Features,
  sound: Features,
  pitched: boolean,
  checkpoint?: Checkpoint,
) {
  // What drums play is gone in frames that are long.
  const pairs = pitched ? FEW_PAIRS : MOST_PAIRS;
  const right = waysOf(score, sound, pairs, checkpoint);
  if (right.found.value <= 0) return { song: -1, place: -1 };
  const by = step(score.frames, sound.frames, pairs);
  const few = coarser(score, by);
  // Drums alone are the same in every key: low ones as high ones are others.
  const others = pitched
    ? WRONG_KEYS.map((k) => transposed(few, k))
    : [1, 2].map((k) => bandsTurned(few, k));
  const wrong = [backwards(few), ...others].map((w) => {
    const alike = likeness(w, right.b);
    return warp(alike, w.frames, right.b.frames, w.hopMs).value;
  });
  const elsewhere = warp(
    without(right.alike, right.b.frames, right.found),
    right.a.frames,
    right.b.frames,
    right.a.hopMs,
  ).value;
  // A way that is hardly better than chance is not better than others by being hardly anything.
  const frames = Math.min(right.a.frames, right.b.frames);
  const value = Math.max(right.found.value, pitched ? BY_CHANCE * frames : 0);
  return {
    song: (right.found.value - Math.max(0, ...wrong)) / value,
    place: (right.found.value - Math.max(0, elsewhere)) / value,
  };
}

/** From here on a place is taken for right: of such none was wrong on songs at hand. */
export const SURE = 0.8;

export function doubtOf(of: {
  confidence: number;
  better: Alignment['better'];
  covered: number;
  share: number;
  places: number;
}): Doubt | null {
  const { confidence, better, covered, share, places } = of;
  if (confidence >= SURE) return null;
  if (better.song < 0.35 && share < MET_BY_CHANCE) return 'other';
  if (covered < 0.5) return 'little';
  return places < 24 ? 'sparse' : 'repeats';
}

/** Another song meets fewer of its onsets, wherever it is laid. */
const MET_BY_CHANCE = 0.4;
/** Dense music is alike in every key: there it counts how many onsets are met, beside as many. */
const MET = 0.35;
const MET_SAYS = 0.3;
/** Of drums alone, alike in all that they are, it says more. */
const MET_SAYS_OF_DRUMS = 0.55;

const logistic = (x: number) => 1 / (1 + Math.exp(-x));

/** How sure it is, by what was seen on songs at hand (`npm run bench align`). */
export function sureOf(of: {
  better: { song: number; place: number };
  covered: number;
  share: number;
  places: number;
  pitched: boolean;
}): number {
  const few = Math.min(1, of.places / 24);
  const met = of.pitched ? MET_SAYS : MET_SAYS_OF_DRUMS;
  return (
    few *
    logistic(16 * (of.better.song + met * (of.share - MET) - 0.36)) *
    logistic(30 * (of.better.place - 0.06)) *
    logistic(25 * (of.covered - 0.45)) *
    logistic(20 * (of.share - 0.3))
  );
}
