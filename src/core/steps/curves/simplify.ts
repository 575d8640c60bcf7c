import { overRate } from '../../reading/curves';
import type { Point } from './change';

/**
 * The fewest points whose held values stay within an error of the curve: each takes in as many of
 * the following values as lie within twice the error of each other. Greedy is best here: a stretch
 * that ends earlier never lets a later one end later. Linear.
 * @returns the points, and the largest error
 */
export function stepsWithin(
  points: readonly Point[],
  within: number,
): { points: Point[]; error: number } {
  const out: Point[] = [];
  let error = 0;
  for (let from = 0; from < points.length;) {
    let low = points[from]!.value;
    let high = low;
    let to = from + 1;
    for (; to < points.length; to++) {
      // Of several at one tick the last holds: those before it last no time.
      const { value } = points[to]!;
      const [l, h] = [Math.min(low, value), Math.max(high, value)];
      if (h - l > 2 * within) break;
      [low, high] = [l, h];
    }
    // One that was sent stays as it was sent where it fits.
    const first = points[from]!;
    const fits = first.value >= high - within && first.value <= low + within;
    const value = fits ? first.value : Math.floor((low + high) / 2);
    error = Math.max(error, high - value, value - low);
    out.push(value === first.value ? first : { ...first, value });
    from = to;
  }
  return { points: out, error };
}

/** What is held for so long is no way to another value: a bend that rests is heard as a pitch. */
const REST_US = 250_000;

/** The same, but that what is held for long keeps its value: the last one always does. */
export function restingWithin(
  points: readonly Point[],
  within: number,
  usAt: (tick: number) => number,
): Point[] {
  if (within === 0) return stepsWithin(points, within).points;
  const out: Point[] = [];
  let from = 0;
  points.forEach((point, i) => {
    const next = points[i + 1];
    if (next && usAt(next.tick) - usAt(point.tick) < REST_US) return;
    for (const moving of stepsWithin(points.slice(from, i), within).points) out.push(moving);
    if (out.at(-1)?.value !== point.value) out.push(point);
    from = i + 1;
  });
  return out;
}

/**
 * Points of the curve between which straight lines stay within an error, by the widest fan of lines
 * that still passes all points between. Linear for curves of music: a fan that closes ends its line.
 */
export function linesWithin(
  points: readonly Point[],
  within: number,
): { points: Point[]; error: number } {
  if (points.length <= 2) return { points: [...points], error: 0 };
  const out: Point[] = [points[0]!];
  let from = 0;
  while (from < points.length - 1) {
    const a = points[from]!;
    let [low, high] = [-Infinity, Infinity];
    let best = from + 1;
    for (let to = from + 1; to < points.length; to++) {
      const b = points[to]!;
      const dt = Math.max(1e-9, b.tick - a.tick);
      const slope = (b.value - a.value) / dt;
      if (slope >= low && slope <= high) best = to;
      low = Math.max(low, (b.value - within - a.value) / dt);
      high = Math.min(high, (b.value + within - a.value) / dt);
      if (low > high) break;
    }
    out.push(points[best]!);
    from = best;
  }
  return { points: out, error: lineError(points, out) };
}

/** The largest distance of points from the lines between others. */
export function lineError(points: readonly Point[], kept: readonly Point[]): number {
  let error = 0;
  let k = 0;
  for (const p of points) {
    while (k + 2 < kept.length && kept[k + 1]!.tick <= p.tick) k++;
    const [a, b] = [kept[k]!, kept[k + 1] ?? kept[k]!];
    const dt = b.tick - a.tick;
    const at = dt === 0 ? b.value : a.value + ((b.value - a.value) * (p.tick - a.tick)) / dt;
    error = Math.max(error, Math.abs(p.value - at));
  }
  return error;
}

/** The largest distance of what is held from what was held, wherever either changes. */
export function heldError(points: readonly Point[], kept: readonly Point[]): number {
  let error = 0;
  let k = -1;
  for (const [i, p] of points.entries()) {
    // Of several at one tick the last holds.
    if (points[i + 1]?.tick === p.tick) continue;
    while (k + 1 < kept.length && kept[k + 1]!.tick <= p.tick) k++;
    if (k >= 0) error = Math.max(error, Math.abs(p.value - kept[k]!.value));
  }
  return error;
}

/**
 * Brought to a rate: of those that come too fast the last of each moment stays, so that the value
 * that is reached is the one that was meant. What waits takes the next free place of the second.
 */
export function atRate(
  points: readonly Point[],
  perSecond: number,
  usAt: (tick: number) => number,
): readonly Point[] {
  const us = points.map((p) => usAt(p.tick));
  // Clocks that were rounded are a second apart where they are so to the hair.
  if (overRate(us, perSecond, 0).length === 0) return points;
  // Evenly: at most one in each slot of the rate, the last of those that fall into it.
  const slot = 1_000_000 / perSecond;
  const out: Point[] = [];
  let taken = -Infinity;
  for (const [i, p] of points.entries()) {
    const next = us[i + 1];
    const isLast = next === undefined || next - us[i]! >= slot;
    if (us[i]! - taken >= slot) {
      out.push(p);
      taken = us[i]!;
    } else if (isLast) {
      // The value that stays: it takes the place of the one just before it.
      const last = out.at(-1)!;
      out[out.length - 1] = { ...last, value: p.value };
    }
  }
  return out;
}
