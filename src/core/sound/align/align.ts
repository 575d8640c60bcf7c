import { type Jump, type Alignment } from './alignment';
import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Onsets } from '../onsets';
import { lineUp, pairsAt, struckOf } from '../line-up';
import { type FeatureNote, scoreFeatures } from './features';
import { standingOut, type Features } from './frames';
import { lineThrough } from './refine';
import { unbent } from './unbent';
import type { Stretch } from './warp';
import { MOST_PAIRS, betterThan, doubtOf, isPitched, sureOf, waysOf } from './sure';
import { NEAR_JUMP, joined, laterBy, lengthOf, simplest, straightened } from './stretches';
import { FEWEST, type Put, lineOf, put } from './put';

export interface AlignInput {
  readonly notes: readonly FeatureNote[];
  readonly scoreMs: number;
  readonly features: Features;
  readonly onsets: Onsets;
  readonly checkpoint?: Checkpoint;
  /** What the score sounds like, where that is known better than by its notes. */
  readonly like?: Features | undefined;
}

/** A stretch that is shorter is chance. */
const SHORTEST_MS = 3000;

const TOGETHER_MS = 15;

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
  const found = byOwnSoundOrNotes(input);
  // A few cues or blasts are too little for what sounds to be followed.
  if (input.notes.length < FEW_NOTES && (found === null || found.doubt !== null))
    return byBeginnings(input) ?? found;
  return found;
}

/** By what it is like, and where that says nothing surely by its notes: somebody may play those. */
function byOwnSoundOrNotes(input: AlignInput): Alignment | null {
  if (!input.like) return byWhatSounds(input);
  const half = (from: number): Partial<AlignInput> => {
    const { checkpoint } = input;
    return checkpoint
      ? { checkpoint: (done, total) => checkpoint(from + done / Math.max(1, total) / 2, 1) }
      : {};
  };
  const like = byWhatSounds({ ...input, ...half(0) });
  if (like?.doubt === null) return like;
  const notes = byWhatSounds({ ...input, like: undefined, ...half(0.5) });
  return (notes?.confidence ?? -1) > (like?.confidence ?? -1) ? notes : like;
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

/** Both sound, and nothing of the one goes along with the other. */
const NOWHERE: Alignment = {
  kind: 'offset',
  offsetMs: 0,
  ratio: 1,
  offset: 0,
  line: { offset: 0, ratio: 1 },
  confidence: 0,
  share: 0,
  covered: 0,
  better: { song: 0, place: 0 },
  places: [],
  jumps: [],
  doubt: 'other',
};

function byWhatSounds(input: AlignInput): Alignment | null {
  const { notes, scoreMs, onsets, checkpoint } = input;
  // Two sounds are held against each other by what stands out of both.
  const features = input.like ? standingOut(input.features) : input.features;
  if (notes.length < 4 || features.frames < 8) return null;
  const score = input.like ?? scoreFeatures(notes, scoreMs);
  const part = (from: number): Checkpoint | undefined =>
    checkpoint && ((done, total) => checkpoint(from + (0.25 * done) / Math.max(1, total), 1));
  const { found, alike, a, b } = waysOf(score, features, MOST_PAIRS, part(0));
  const whole = joined(
    found.stretches.filter((s) => lengthOf(s, found.hopMs) >= SHORTEST_MS),
    found.hopMs,
  );
  if (whole.length === 0) return onsets.ms.length === 0 ? null : NOWHERE;
  const pitched = isPitched(notes);
  const better = betterThan(score, features, pitched, part(0.5));
  const moments = momentsOf(notes);
  const pairs = { alike, n: a.frames, m: b.frames };
  const putOne = (s: Stretch) => put(s, found.hopMs, moments, onsets);
  const free = simplest(straightened(whole, putOne), pairs, found, putOne);
  const { long, all } = unbent(free, { pairs, warp: found, moments, putOne, onsets });
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
  const confidence = sureOf({ better, covered, share, places: places.length, pitched });
  const said = { kind, offsetMs, ratio, offset, line, confidence, share, covered, better };
  const doubt = doubtOf({ confidence, better, covered, share, places: places.length });
  return { ...said, places, jumps, doubt };
}

/** What drifts by less over all of it runs at one tempo with the score. */
const SAME_TEMPO_MS = 12;

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
