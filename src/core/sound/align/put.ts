import type { Onsets } from '../onsets';
import {
  BY_FRAMES,
  ONCE_MORE,
  type MatchedPair,
  along,
  lineThrough,
  ontoOnsets,
  toNearest,
} from './refine';
import type { Stretch } from './warp';

export interface Put {
  readonly places: MatchedPair[];
  readonly moments: number;
  readonly met: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** It lies on no straight line. */
  readonly bends: boolean;
}

/** A stretch that is right to the frame, note by note. */
export function put(stretch: Stretch, hopMs: number, moments: Float64Array, onsets: Onsets): Put {
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
function placesAt(moments: Float64Array, at: Float64Array, onsets: Onsets): MatchedPair[] {
  const near = toNearest(at, onsets);
  return Array.from(moments, (scoreMs, i) => ({ scoreMs, soundMs: near[i]! })).filter(
    (p) => !Number.isNaN(p.soundMs),
  );
}

export const FEWEST = 8;

export const lineOf = (places: readonly MatchedPair[]) =>
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

/** How far the middle of a stretch may lie beside a straight line. */
const STRAIGHT_MS = 22;

const PARTS = 10;

/**
 * Whether places bend away from a straight line: by more than single ones of them are scattered, in the
 * middle of any part.
 */
function bendOf(
  places: readonly MatchedPair[],
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
