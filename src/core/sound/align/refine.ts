import type { Onsets } from '../onsets';

/** A moment of the score and the moment at which it is heard, milliseconds. */
export interface MatchedPair {
  readonly scoreMs: number;
  readonly soundMs: number;
}

/** How closely a way is put onto the onsets. */
export interface Closeness {
  readonly windowMs: number;
  readonly stepMs: number;
  /** How far it may be off. */
  readonly reachMs: number;
  /** It is right within as much; what is farther off is believed less. */
  readonly expectedMs: number;
}
/** A way that is right to the frame. */
export const BY_FRAMES: Closeness = { windowMs: 3600, stepMs: 900, reachMs: 180, expectedMs: 60 };
/** One that was put right once, where the tempo turns quickly. */
export const ONCE_MORE: Closeness = { windowMs: 1500, stepMs: 400, reachMs: 72, expectedMs: 40 };

/** In what steps it is looked at. */
const GRID_MS = 4;
/** How near an onset must be to count as the moment of a note, while it is looked for. */
const KERNEL_MS = 14;
/** What it costs that a window lies otherwise than the one before, a grid step. */
const TURN = 0.05;
/** How near an onset lies to where its note is expected, at last. */
const NEAR_MS = 28;

/** Where a row of times lies between the points of a way, both rising. */
export function along(x: ArrayLike<number>, y: ArrayLike<number>, at: number): number {
  let [low, high] = [0, x.length - 1];
  if (high < 1) return y[0]! + (at - x[0]!);
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (x[mid]! <= at) low = mid;
    else high = mid;
  }
  const run = x[high]! - x[low]!;
  const slope = run > 0 ? (y[high]! - y[low]!) / run : 1;
  return y[low]! + (at - x[low]!) * slope;
}

const firstAtOrBehind = (sorted: ArrayLike<number>, value: number): number => {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (sorted[mid]! < value) low = mid + 1;
    else high = mid;
  }
  return low;
};

/**
 * Puts a way that is right to a frame onto the onsets: in windows that overlap, each as far off as makes
 * most notes meet an onset, and as little otherwise than the window before as that bears.
 *
 * @param moments at which notes begin, rising, in milliseconds of the score
 * @param way where each lies in the sound by the frames, of as many values
 * @returns the same, put right; `met` how many of a hundred meet an onset there
 */
export function ontoOnsets(
  moments: Float64Array,
  way: Float64Array,
  onsets: Onsets,
  { windowMs, stepMs, reachMs, expectedMs }: Closeness,
): { readonly at: Float64Array; readonly met: number } {
  const n = moments.length;
  if (n === 0 || onsets.ms.length === 0) return { at: way, met: 0 };
  const cells = Math.round((2 * reachMs) / GRID_MS) + 1;
  const first = way[0]!;
  const windows = Math.max(1, Math.ceil((way[n - 1]! - first) / stepMs));
  const costs = Array.from({ length: windows }, () => new Float64Array(cells));
  for (let i = 0; i < n; i++) {
    const row = new Float64Array(cells);
    let any = false;
    for (
      let k = firstAtOrBehind(onsets.ms, way[i]! - reachMs - KERNEL_MS);
      k < onsets.ms.length && onsets.ms[k]! <= way[i]! + reachMs + KERNEL_MS;
      k++
    ) {
      const off = onsets.ms[k]! - way[i]!;
      const weight = 0.4 + 0.6 * Math.sqrt(onsets.strength[k]!);
      const middle = (off + reachMs) / GRID_MS;
      const reach = KERNEL_MS / GRID_MS;
      for (
        let c = Math.max(0, Math.ceil(middle - reach));
        c <= Math.min(cells - 1, middle + reach);
        c++
      ) {
        const near = weight * (1 - Math.abs(c - middle) / reach);
        // One moment meets one onset.
        if (near > row[c]!) row[c] = near;
        any = true;
      }
    }
    if (!any) continue;
    const w = Math.floor((way[i]! - first) / stepMs);
    const reach = Math.ceil(windowMs / 2 / stepMs);
    for (let k = Math.max(0, w - reach); k <= Math.min(windows - 1, w + reach); k++)
      for (let c = 0; c < cells; c++) costs[k]![c]! += row[c]!;
  }
  const chosen = smoothest(costs, cells, reachMs, expectedMs);
  const centres = Float64Array.from(costs, (_, k) => first + (k + 0.5) * stepMs);
  const offs = Float64Array.from(chosen, (c) => c * GRID_MS - reachMs);
  const at = Float64Array.from(way, (ms) => {
    const clamped = Math.max(centres[0]!, Math.min(centres[windows - 1]!, ms));
    return ms + (windows === 1 ? offs[0]! : along(centres, offs, clamped));
  });
  const nearest = toNearest(at, onsets);
  let met = 0;
  for (let i = 0; i < n; i++) if (!Number.isNaN(nearest[i]!)) met++;
  return { at, met: met / n };
}

/** For each window one offset: much is met there, and it turns little from one to the next. */
function smoothest(
  costs: readonly Float64Array[],
  cells: number,
  reachMs: number,
  expectedMs: number,
): number[] {
  const back: Int16Array[] = [];
  let before = new Float64Array(cells);
  for (const row of costs) {
    const total = row.reduce((a, b) => Math.max(a, b), 1e-9);
    const now = new Float64Array(cells);
    const way = new Int16Array(cells);
    // Two passes carry the best neighbour along at its price: linear in the cells.
    const carried = before.slice();
    const origin = Int16Array.from({ length: cells }, (_, c) => c);
    for (let c = 1; c < cells; c++)
      if (carried[c - 1]! - TURN > carried[c]!) {
        carried[c] = carried[c - 1]! - TURN;
        origin[c] = origin[c - 1]!;
      }
    for (let c = cells - 2; c >= 0; c--)
      if (carried[c + 1]! - TURN > carried[c]!) {
        carried[c] = carried[c + 1]! - TURN;
        origin[c] = origin[c + 1]!;
      }
    for (let c = 0; c < cells; c++) {
      now[c] = carried[c]! + row[c]! / total - 0.25 * ((c * GRID_MS - reachMs) / expectedMs) ** 2;
      way[c] = origin[c]!;
    }
    back.push(way);
    before = now;
  }
  let at = 0;
  for (let c = 1; c < cells; c++) if (before[c]! > before[at]!) at = c;
  const out: number[] = [];
  for (let k = back.length - 1; k >= 0; k--) {
    out.push(at);
    at = back[k]![at]!;
  }
  return out.reverse();
}

/** The onset nearest to each moment; NaN where none is near. */
export function toNearest(at: Float64Array, onsets: Onsets, nearMs = NEAR_MS): Float64Array {
  return Float64Array.from(at, (ms) => {
    const k = firstAtOrBehind(onsets.ms, ms);
    const [a, b] = [onsets.ms[k - 1] ?? -Infinity, onsets.ms[k] ?? Infinity];
    const near = ms - a < b - ms ? a : b;
    return Math.abs(near - ms) <= nearMs ? near : NaN;
  });
}

/** A straight line that as many points as may be lie on: least squares, the far ones left out by and by. */
export function lineThrough(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
): { offset: number; ratio: number; on: number } {
  const n = x.length;
  let [offset, ratio] = [0, 1];
  let keep = Array.from({ length: n }, (_, i) => i);
  for (let round = 0; round < 8 && keep.length >= 2; round++) {
    let [mx, my] = [0, 0];
    for (const i of keep) {
      mx += x[i]!;
      my += y[i]!;
    }
    mx /= keep.length;
    my /= keep.length;
    let [sxx, sxy] = [0, 0];
    for (const i of keep) {
      sxx += (x[i]! - mx) ** 2;
      sxy += (x[i]! - mx) * (y[i]! - my);
    }
    ratio = sxx > 0 ? sxy / sxx : 1;
    offset = my - ratio * mx;
    const off = Array.from({ length: n }, (_, i) => Math.abs(y[i]! - offset - ratio * x[i]!));
    const middle = [...keep].map((i) => off[i]!).sort((a, b) => a - b)[keep.length >> 1]!;
    const within = Math.max(6, 2.5 * middle);
    const next = off.flatMap((o, i) => (o <= within ? [i] : []));
    if (next.length === keep.length && round > 2) break;
    keep = next;
  }
  let on = 0;
  for (let i = 0; i < n; i++) if (Math.abs(y[i]! - offset - ratio * x[i]!) <= 25) on++;
  return { offset, ratio, on: n === 0 ? 0 : on / n };
}

/** Places beside one that tell where it should be, and how far off it is believed. */
const BESIDE = 5;
const BELIEVED_MS = 30;

/** How well each place agrees with those around it, from 0 to 1. */
export function surenessOf(places: readonly MatchedPair[]): number[] {
  const offs = places.map((p) => p.soundMs - p.scoreMs);
  return offs.map((off, i) => {
    const near = offs.slice(Math.max(0, i - BESIDE), i + BESIDE + 1).sort((a, b) => a - b);
    return Math.max(0, 1 - Math.abs(off - near[near.length >> 1]!) / BELIEVED_MS);
  });
}
