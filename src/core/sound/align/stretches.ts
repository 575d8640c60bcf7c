import type { MatchedPair } from './refine';
import type { Stretch, Warp } from './warp';
import { type Put, lineOf } from './put';
import type { Alike } from './steady';

/** Places beside a jump that tell how far apart both are there. */
export const NEAR_JUMP = 11;

export function laterBy(places: readonly MatchedPair[]): number | null {
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
export function straightened(
  stretches: readonly Stretch[],
  putOne: (s: Stretch) => Put,
): Stretches {
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
    const shorter =
      k + 2 < all.length && all[k + 1]!.moments < all[k]!.moments + all[k + 2]!.moments;
    const over = (shorter ? [1, 2] : [1]).find(
      (n) => k + n < all.length && goOn(all[k]!, all[k + n]!),
    );
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

export interface Stretches {
  readonly long: readonly Stretch[];
  readonly all: readonly Put[];
}

/** One line is simpler than jumps: it is taken where score and sound are as alike along it. */
const AS_GOOD = 0.97;

const LINES_TRIED = 6;

export const alikeAlong = ({ alike, m }: Alike, { score, sound }: Stretch): number =>
  score.reduce((sum, i, k) => sum + alike[i * m + sound[k]!]!, 0);

/** A way along a line, over frames of the score; null where hardly any of it is in the sound. */
export function alongLine(
  line: { readonly offset: number; readonly ratio: number } | null,
  [first, last]: readonly [number, number],
  { m }: Alike,
  { hopMs }: Warp,
): Stretch | null {
  if (!line) return null;
  const frames: [number, number][] = [];
  for (let f = first; f <= last; f++) {
    const to = Math.round((line.offset + line.ratio * (f + 0.5) * hopMs) / hopMs - 0.5);
    if (to >= 0 && to < m) frames.push([f, to]);
  }
  if (frames.length < 2) return null;
  return {
    score: Int32Array.from(frames, ([f]) => f),
    sound: Int32Array.from(frames, ([, to]) => to),
  };
}

/**
 * Where music repeats itself a way may jump by as much and back. Of the lines of its stretches, each
 * drawn through all of the score, the one along which both are most alike is taken if it explains as much.
 */
export function simplest(
  jumping: Stretches,
  of: Alike,
  warp: Warp,
  putOne: (s: Stretch) => Put,
): Stretches {
  if (jumping.all.length < 2) return jumping;
  const longest = [...jumping.all].sort((a, b) => b.moments - a.moments).slice(0, LINES_TRIED);
  let best: { stretch: Stretch; value: number } | null = null;
  for (const { places } of longest) {
    const stretch = alongLine(lineOf(places), [0, of.n - 1], of, warp);
    const value = stretch ? alikeAlong(of, stretch) : 0;
    if (stretch && (!best || value > best.value)) best = { stretch, value };
  }
  const jumped = jumping.long.reduce((sum, s) => sum + alikeAlong(of, s), 0);
  if (!best || best.value < AS_GOOD * jumped) return jumping;
  return { long: [best.stretch], all: [putOne(best.stretch)] };
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

export function joined(stretches: readonly Stretch[], hopMs: number): Stretch[] {
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

export const lengthOf = ({ score }: Stretch, hopMs: number) => (score.at(-1)! - score[0]!) * hopMs;
