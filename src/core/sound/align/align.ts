import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Onsets } from '../onsets';
import { lineUp, pairsAt, struckOf } from '../line-up';
import { scoreFeatures, type FeatureNote } from './features';
import { backwards, bandsTurned, coarser, transposed, type Features } from './frames';
import {
  along,
  BY_FRAMES,
  lineThrough,
  ONCE_MORE,
  ontoOnsets,
  toNearest,
  type Place,
} from './refine';
import { likeness, warp, type Stretch, type Warp } from './warp';

/** A place at which one goes on elsewhere than the other, milliseconds of both. */
export interface Jump {
  readonly scoreFromMs: number;
  readonly scoreToMs: number;
  readonly soundFromMs: number;
  readonly soundToMs: number;
  /** By how much the sound is later than the score before it and behind it. */
  readonly beforeMs: number;
  readonly afterMs: number;
}

/** Where a recording lies beside a score. */
export interface Alignment {
  /** The simplest that explains it: one offset, one tempo, or a tempo that wanders. */
  readonly kind: 'offset' | 'tempo' | 'wander';
  /** Sound time is `offsetMs + ratio × score time`, of the longest stretch. */
  readonly offsetMs: number;
  readonly ratio: number;
  /** Of the same stretch: the one offset that most places have, and the straight line through them. */
  readonly offset: number;
  readonly line: { readonly offset: number; readonly ratio: number };
  /** From 0 to 1; calibrated: see `sureOf`. */
  readonly confidence: number;
  /** How many of the score’s moments meet an onset where they are expected. */
  readonly share: number;
  /** How much of the score goes along with the sound, by the clock. */
  readonly covered: number;
  /** How much better than the best wrong way, and than the best other place; −1 to 1. */
  readonly better: { readonly song: number; readonly place: number };
  readonly places: readonly Place[];
  readonly jumps: readonly Jump[];
  /** Why it is not sure; null where it is. */
  readonly doubt: Doubt | null;
}

export interface AlignInput {
  readonly notes: readonly FeatureNote[];
  readonly scoreMs: number;
  readonly features: Features;
  readonly onsets: Onsets;
  readonly checkpoint?: Checkpoint;
}

/** Pairs of frames that are held against each other at once: memory and time are bounded by them. */
const MOST_PAIRS = 8_000_000;
/** And for each of the wrong ways. */
const FEW_PAIRS = 900_000;
const WRONG_KEYS = [1, -1, 6];
/** A stretch that is shorter is chance. */
const SHORTEST_MS = 3000;
/** Nearer than that to the way that was found another is the same. */
const SAME_PLACE_MS = 1200;
const TOGETHER_MS = 15;

const step = (n: number, m: number, most: number): number =>
  Math.max(1, Math.ceil(Math.sqrt((n * m) / most)));

function waysOf(score: Features, sound: Features, most: number, checkpoint?: Checkpoint) {
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

/** The moments at which notes begin, those together one. */
export function momentsOf(notes: readonly FeatureNote[]): Float64Array {
  const sorted = notes.map((n) => n.fromMs).sort((a, b) => a - b);
  const out: number[] = [];
  for (const ms of sorted) if (out.length === 0 || ms - out.at(-1)! > TOGETHER_MS) out.push(ms);
  return Float64Array.from(out);
}

/** Of fewer notes their beginnings say more than what sounds. */
const FEW_NOTES = 100;

/** Where a recording lies beside a score; null where one of them has nothing that sounds. */
export function align(input: AlignInput): Alignment | null {
  const found = byWhatSounds(input);
  // A few cues or blasts are too little for what sounds to be followed.
  if (input.notes.length < FEW_NOTES && (found === null || found.doubt !== null))
    return byBeginnings(input) ?? found;
  return found;
}

/** Never as sure as what was followed all through. */
const SUREST_OF_FEW = 0.5;

/** The place at which most beginnings meet. */
function byBeginnings({ notes, onsets }: AlignInput): Alignment | null {
  const struck = struckOf(notes.map((n) => [n.fromMs, n.velocity] as const));
  const found = lineUp(struck, onsets);
  if (!found) return null;
  const { offsetMs, confidence } = found;
  const places = pairsAt(struck, onsets, offsetMs).map(({ note, onset }) => ({
    scoreMs: struck.ms[note]!,
    soundMs: onsets.ms[onset]!,
  }));
  const share = places.length / struck.ms.length;
  return {
    kind: 'offset',
    offsetMs,
    ratio: 1,
    offset: offsetMs,
    line: { offset: offsetMs, ratio: 1 },
    confidence: Math.min(SUREST_OF_FEW, confidence),
    share,
    covered: share,
    better: { song: 0, place: 0 },
    places,
    jumps: [],
    doubt: 'sparse',
  };
}

function byWhatSounds(input: AlignInput): Alignment | null {
  const { notes, scoreMs, features, onsets, checkpoint } = input;
  if (notes.length < 4 || features.frames < 8) return null;
  const score = scoreFeatures(notes, scoreMs);
  const part = (from: number): Checkpoint | undefined =>
    checkpoint && ((done, total) => checkpoint(from + (0.25 * done) / Math.max(1, total), 1));
  const { found } = waysOf(score, features, MOST_PAIRS, part(0));
  const whole = joined(
    found.stretches.filter((s) => lengthOf(s, found.hopMs) >= SHORTEST_MS),
    found.hopMs,
  );
  if (whole.length === 0) return null;
  const better = betterThan(score, features, isPitched(notes), part(0.5));
  const moments = momentsOf(notes);
  const { long, all } = straightened(whole, (s) => put(s, found.hopMs, moments, onsets));
  const places = all.flatMap((s) => s.places);
  const covered = all.reduce((n, s) => n + s.moments, 0) / Math.max(1, moments.length);
  const met = all.reduce((n, s) => n + s.met * s.moments, 0);
  const share = met / Math.max(1, moments.length);
  const main = all.reduce((a, b) => (b.moments > a.moments ? b : a));
  const { kind, offsetMs, ratio, offset, line } = shapeOf(main);
  const jumps = long.slice(1).map((s, k): Jump => {
    const before = long[k]!;
    const hop = found.hopMs;
    const [left, right] = [all[k]!.places, all[k + 1]!.places];
    const frames = (a: Stretch, i: number) => (a.sound.at(i)! - a.score.at(i)!) * hop;
    return {
      beforeMs: laterBy(left.slice(-NEAR_JUMP)) ?? frames(before, -1),
      afterMs: laterBy(right.slice(0, NEAR_JUMP)) ?? frames(s, 0),
      scoreFromMs: before.score.at(-1)! * hop,
      scoreToMs: s.score[0]! * hop,
      soundFromMs: before.sound.at(-1)! * hop,
      soundToMs: s.sound[0]! * hop,
    };
  });
  const confidence = sureOf({ better, covered, share, places: places.length });
  const said = { kind, offsetMs, ratio, offset, line, confidence, share, covered, better };
  const doubt = doubtOf({ confidence, better, covered, places: places.length });
  return { ...said, places, jumps, doubt };
}

/** Places beside a jump that tell how far apart both are there. */
const NEAR_JUMP = 11;

function laterBy(places: readonly Place[]): number | null {
  const offs = places.map((p) => p.soundMs - p.scoreMs).sort((a, b) => a - b);
  return offs[offs.length >> 1] ?? null;
}

/** What goes on as it was, but for so much and as much of what lies between: a tempo turns there. */
const GOES_ON_MS = 150;
const GOES_ON = 0.1;

/**
 * Stretches that go on where the one before ended are one, whatever was hard to hear between them; one
 * between two such, to another place and back, was the same music elsewhere.
 */
function straightened(stretches: readonly Stretch[], putOne: (s: Stretch) => Put) {
  let long = [...stretches];
  let all = long.map(putOne);
  const goOn = (a: Put, b: Put): boolean => {
    const [left, right] = [a.places.slice(-NEAR_JUMP), b.places.slice(0, NEAR_JUMP)];
    const [from, to] = [laterBy(left), laterBy(right)];
    if (from === null || to === null) return false;
    const between = right[0]!.scoreMs - left.at(-1)!.scoreMs;
    const apart = right[right.length >> 1]!.scoreMs - left[left.length >> 1]!.scoreMs;
    // At its own tempo it is later by and by.
    const later = (tempoOfPut(a, b) - 1) * apart;
    return between >= 0 && Math.abs(to - from - later) <= GOES_ON_MS + GOES_ON * between;
  };
  for (let k = 0; k + 1 < all.length;) {
    const over = [1, 2].find((n) => k + n < all.length && goOn(all[k]!, all[k + n]!));
    if (over === undefined) {
      k++;
      continue;
    }
    const one = together(long[k]!, long[k + over]!);
    long = [...long.slice(0, k), one, ...long.slice(k + over + 1)];
    all = [...all.slice(0, k), putOne(one), ...all.slice(k + over + 1)];
  }
  return { long, all };
}

/** The tempo of two stretches, by the longer of them; 1 where there is little to go by. */
function tempoOfPut(a: Put, b: Put): number {
  const { places } = a.places.length > b.places.length ? a : b;
  return lineOf(places)?.ratio ?? 1;
}

const together = (a: Stretch, b: Stretch): Stretch => ({
  score: Int32Array.of(...a.score, ...b.score),
  sound: Int32Array.of(...a.sound, ...b.sound),
});

/** Both go on after as long a gap: nothing is missing there, it was only hard to hear. */
const SAME_GAP_MS = 900;

function joined(stretches: readonly Stretch[], hopMs: number): Stretch[] {
  const out: Stretch[] = [];
  for (const s of stretches) {
    const before = out.at(-1);
    const gap = (a: Int32Array, b: Int32Array) => (b[0]! - a.at(-1)!) * hopMs;
    const apart = before && gap(before.score, s.score) - gap(before.sound, s.sound);
    if (before && Math.abs(apart!) <= SAME_GAP_MS) out[out.length - 1] = together(before, s);
    else out.push(s);
  }
  return out;
}

const lengthOf = ({ score }: Stretch, hopMs: number) => (score.at(-1)! - score[0]!) * hopMs;

interface Put {
  readonly places: Place[];
  readonly moments: number;
  readonly met: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** It lies on no straight line. */
  readonly bends: boolean;
}

/** A stretch that is right to the frame, note by note. */
function put(stretch: Stretch, hopMs: number, moments: Float64Array, onsets: Onsets): Put {
  const x = Float64Array.from(stretch.score, (f) => (f + 0.5) * hopMs);
  const y = Float64Array.from(stretch.sound, (f) => (f + 0.5) * hopMs);
  const mine = moments.filter((ms) => ms >= x[0]! - hopMs && ms <= x.at(-1)! + hopMs);
  const smooth = smoothed(x, y, Math.max(3, Math.round(SMOOTH_MS / hopMs)));
  const way = mine.map((ms) => along(smooth.x, smooth.y, ms));
  const once = ontoOnsets(mine, way, onsets, BY_FRAMES);
  // Where it lies on a straight line the line says where notes are expected; else the way once more.
  const first = placesAt(mine, once.at, onsets);
  const line = lineOf(first);
  const bends = line === null || bendOf(first, line);
  const at = bends
    ? ontoOnsets(mine, once.at, onsets, ONCE_MORE).at
    : mine.map((ms) => line.offset + line.ratio * ms);
  const places = placesAt(mine, at, onsets);
  return {
    places,
    moments: mine.length,
    met: places.length / Math.max(1, mine.length),
    x: mine,
    y: at,
    bends,
  };
}

/** Each moment at the onset that is nearest to where it is expected; those without one are left out. */
function placesAt(moments: Float64Array, at: Float64Array, onsets: Onsets): Place[] {
  const near = toNearest(at, onsets);
  return Array.from(moments, (scoreMs, i) => ({ scoreMs, soundMs: near[i]! })).filter(
    (p) => !Number.isNaN(p.soundMs),
  );
}

const FEWEST = 8;
const lineOf = (places: readonly Place[]) =>
  places.length < FEWEST
    ? null
    : lineThrough(
        places.map((p) => p.scoreMs),
        places.map((p) => p.soundMs),
      );

/** A line is laid through so much of a way at a time: a tempo turns no faster. */
const SMOOTH_MS = 600;

/** Points of a way that are not of its steps. */
function smoothed(
  x: Float64Array,
  y: Float64Array,
  each: number,
): { x: Float64Array; y: Float64Array } {
  const nodes = Math.max(2, Math.ceil(x.length / each) + 1);
  const outX = new Float64Array(nodes);
  const outY = new Float64Array(nodes);
  for (let k = 0; k < nodes; k++) {
    const middle = Math.min(x.length - 1, k * each);
    const [from, to] = [Math.max(0, middle - each * 2), Math.min(x.length, middle + each * 2 + 1)];
    const { offset, ratio } = lineThrough(x.subarray(from, to), y.subarray(from, to));
    outX[k] = x[middle]!;
    outY[k] = offset + ratio * x[middle]!;
  }
  for (let k = 1; k < nodes; k++) {
    outX[k] = Math.max(outX[k]!, outX[k - 1]! + 1e-3);
    outY[k] = Math.max(outY[k]!, outY[k - 1]! + 1e-3);
  }
  return { x: outX, y: outY };
}

/** What drifts by less over all of it runs at one tempo with the score. */
const SAME_TEMPO_MS = 12;
/** How far the middle of a stretch may lie beside a straight line. */
const STRAIGHT_MS = 22;
const PARTS = 10;

/**
 * Whether places bend away from a straight line: by more than single ones of them are scattered, in the
 * middle of any part.
 */
function bendOf(
  places: readonly Place[],
  { offset, ratio }: { readonly offset: number; readonly ratio: number },
): boolean {
  const off = places.map((p) => p.soundMs - offset - ratio * p.scoreMs);
  const size = Math.max(6, Math.ceil(off.length / PARTS));
  const middles: number[] = [];
  const scatter: number[] = [];
  for (let from = 0; from + 4 < off.length; from += size) {
    const part = off.slice(from, from + size).sort((a, b) => a - b);
    const mid = part[part.length >> 1]!;
    middles.push(Math.abs(mid));
    for (const o of part) scatter.push(Math.abs(o - mid));
  }
  scatter.sort((a, b) => a - b);
  const usual = scatter[scatter.length >> 1] ?? 0;
  // One part alone may lie on a wrong beginning.
  const second = middles.sort((a, b) => b - a)[1] ?? 0;
  return second > Math.max(STRAIGHT_MS, 1.6 * usual);
}

function shapeOf({ places, x, y, bends }: Put) {
  const xs = places.map((p) => p.scoreMs);
  const ys = places.map((p) => p.soundMs);
  const line = lineOf(places) ?? lineThrough(x, y);
  const offset = xs.length > 0 ? modeOf(xs, ys) : line.offset;
  const of = { offset, line };
  if (bends && xs.length >= FEWEST)
    return {
      kind: 'wander' as const,
      offsetMs: (y[0] ?? 0) - (x[0] ?? 0),
      ratio: line.ratio,
      ...of,
    };
  const run = (xs.at(-1) ?? 0) - (xs[0] ?? 0);
  if (Math.abs(line.ratio - 1) * run > SAME_TEMPO_MS)
    return { kind: 'tempo' as const, offsetMs: line.offset, ratio: line.ratio, ...of };
  return { kind: 'offset' as const, offsetMs: offset, ratio: 1, ...of };
}

/** The offset that most pairs have: the middle of those that are near it. */
function modeOf(xs: readonly number[], ys: readonly number[]): number {
  const offs = xs.map((x, i) => ys[i]! - x).sort((a, b) => a - b);
  let middle = offs[offs.length >> 1] ?? 0;
  for (const within of [25, 12, 8, 6]) {
    const near = offs.filter((o) => Math.abs(o - middle) <= within);
    if (near.length < 3) break;
    middle = near.reduce((a, b) => a + b, 0) / near.length;
  }
  return middle;
}

/** Of as many notes one must have a pitch for keys to say something. */
const PITCHED = 0.15;
const isPitched = (notes: readonly FeatureNote[]) =>
  notes.filter((n) => !n.drum).length > PITCHED * notes.length;

/**
 * How much better the way is than the best wrong one, the score backwards or in other keys, and than the
 * best at another place; all in as few frames, so that they are held against each other.
 */
function betterThan(score: Features, sound: Features, pitched: boolean, checkpoint?: Checkpoint) {
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
  const { value } = right.found;
  return { song: 1 - Math.max(...wrong) / value, place: 1 - elsewhere / value };
}

/** From here on a place is taken for right: of such none was wrong on songs at hand. */
export const SURE = 0.8;

/** Why a place is not sure: another song; too little of it; it repeats itself; few beginnings. */
export type Doubt = 'other' | 'little' | 'repeats' | 'sparse';

function doubtOf(of: {
  confidence: number;
  better: Alignment['better'];
  covered: number;
  places: number;
}): Doubt | null {
  const { confidence, better, covered, places } = of;
  if (confidence >= SURE) return null;
  if (better.song < 0.35) return 'other';
  if (covered < 0.5) return 'little';
  return places < 24 ? 'sparse' : 'repeats';
}

const logistic = (x: number) => 1 / (1 + Math.exp(-x));

/** How sure it is, by what was seen on songs at hand (`npm run bench align`). */
function sureOf(of: {
  better: { song: number; place: number };
  covered: number;
  share: number;
  places: number;
}): number {
  const few = Math.min(1, of.places / 24);
  return (
    few *
    logistic(14 * (of.better.song - 0.42)) *
    logistic(30 * (of.better.place - 0.06)) *
    logistic(25 * (of.covered - 0.45)) *
    logistic(20 * (of.share - 0.3))
  );
}
