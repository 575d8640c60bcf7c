import type { CurveView } from '../../core/wire/view';

export interface CurvePoint {
  readonly tick: number;
  readonly value: number;
}
/** What stands from one tick to another is to be these points instead. */
export interface CurveEdit {
  readonly fromTick: number;
  /** This tick is not among them. */
  readonly toTick: number;
  readonly points: readonly CurvePoint[];
}
type Points = Pick<CurveView, 'tick' | 'value'>;

export const fullOf = (kind: number): number => (kind === 0xe0 ? 16_383 : 127);
const within = (value: number, full: number) => Math.max(0, Math.min(full, Math.round(value)));

/** First of sorted ticks at or behind one. */
export function firstAt({ tick }: Pick<CurveView, 'tick'>, from: number): number {
  let [low, high] = [0, tick.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (tick[mid]! < from) low = mid + 1;
    else high = mid;
  }
  return low;
}

/** The value in force at a tick; null before the first. */
export function valueAt(curve: Points, tick: number): number | null {
  const i = firstAt(curve, tick + 1) - 1;
  return i < 0 ? null : curve.value[i]!;
}

const sorted = (points: CurvePoint[]): CurvePoint[] =>
  points
    .map((p, i) => ({ p, i }))
    .sort((a, b) => a.p.tick - b.p.tick || a.i - b.i)
    .map(({ p }) => p);

function replaced(
  curve: Points,
  chosen: ReadonlySet<number>,
  moved: readonly CurvePoint[],
): CurveEdit | null {
  if (chosen.size === 0) return null;
  const ticks = [...[...chosen].map((i) => curve.tick[i]!), ...moved.map((p) => p.tick)];
  const fromTick = ticks.reduce((a, b) => Math.min(a, b));
  const toTick = ticks.reduce((a, b) => Math.max(a, b)) + 1;
  const points = [...moved];
  for (let i = firstAt(curve, fromTick); i < curve.tick.length && curve.tick[i]! < toTick; i++)
    if (!chosen.has(i)) points.push({ tick: curve.tick[i]!, value: curve.value[i]! });
  return { fromTick, toTick, points: sorted(points) };
}

/** The chosen points elsewhere, in time and value; none leaves its bounds. */
export function movePoints(
  curve: Points,
  kind: number,
  chosen: ReadonlySet<number>,
  byTicks: number,
  byValue: number,
): CurveEdit | null {
  const full = fullOf(kind);
  const moved = [...chosen].map((i) => ({
    tick: Math.max(0, curve.tick[i]! + byTicks),
    value: within(curve.value[i]! + byValue, full),
  }));
  return replaced(curve, chosen, moved);
}

export const takePoints = (curve: Points, chosen: ReadonlySet<number>): CurveEdit | null =>
  replaced(curve, chosen, []);

/** One point more, where the curve has none at the tick; else its value is changed. */
export const putPoint = (kind: number, tick: number, value: number): CurveEdit => ({
  fromTick: tick,
  toTick: tick + 1,
  points: [{ tick, value: within(value, fullOf(kind)) }],
});

/**
 * A stroke of the hand as points at a rate: each slot of time has the value that the hand had last
 * in it, and says nothing where nothing changed.
 */
export function strokeOf(
  kind: number,
  path: readonly CurvePoint[],
  slotTicks: number,
): CurveEdit | null {
  if (path.length === 0) return null;
  const along = sorted([...path]);
  const full = fullOf(kind);
  const [first, last] = [along[0]!, along.at(-1)!];
  const points: CurvePoint[] = [];
  let k = 0;
  for (let tick = first.tick; tick <= last.tick; tick += Math.max(1, slotTicks)) {
    while (k + 1 < along.length && along[k + 1]!.tick <= tick) k++;
    const [a, b] = [along[k]!, along[k + 1] ?? along[k]!];
    const share = b.tick === a.tick ? 0 : (tick - a.tick) / (b.tick - a.tick);
    const value = within(a.value + (b.value - a.value) * Math.max(0, Math.min(1, share)), full);
    if (points.at(-1)?.value !== value) points.push({ tick: Math.round(tick), value });
  }
  const end = within(last.value, full);
  if (points.at(-1)!.value !== end) points.push({ tick: last.tick, value: end });
  return { fromTick: first.tick, toTick: last.tick + 1, points };
}

/** A straight way between the first and the last of the chosen points. */
export function rampBetween(
  curve: Points,
  kind: number,
  chosen: ReadonlySet<number>,
  slotTicks: number,
): CurveEdit | null {
  const all = [...chosen].sort((a, b) => a - b);
  if (all.length < 2) return null;
  const ends = [all[0]!, all.at(-1)!].map((i) => ({
    tick: curve.tick[i]!,
    value: curve.value[i]!,
  }));
  return strokeOf(kind, ends, slotTicks);
}

/** Points as they are carried elsewhere: the first at 0. */
export function copyPoints(curve: Points, chosen: ReadonlySet<number>): CurvePoint[] {
  const all = [...chosen].sort((a, b) => a - b);
  const first = curve.tick[all[0] ?? 0] ?? 0;
  return all.map((i) => ({ tick: curve.tick[i]! - first, value: curve.value[i]! }));
}

/** Copied points from a tick on: what stood in their stretch is what they are now. */
export function pastePoints(
  kind: number,
  { points, full }: CopiedPoints,
  tick: number,
): CurveEdit | null {
  const last = points.at(-1);
  if (!last) return null;
  const own = fullOf(kind);
  return {
    fromTick: tick,
    toTick: tick + last.tick + 1,
    points: points.map((p) => ({
      tick: tick + p.tick,
      value: within((p.value * own) / full, own),
    })),
  };
}

/** Points of a curve whose values go up to `full`. */
export interface CopiedPoints {
  readonly points: readonly CurvePoint[];
  readonly full: number;
}

/** Indices of points in a box of ticks and values. */
export function pointsIn(
  curve: Points,
  fromTick: number,
  toTick: number,
  low: number,
  high: number,
): number[] {
  const out: number[] = [];
  for (let i = firstAt(curve, fromTick); i < curve.tick.length && curve.tick[i]! <= toTick; i++)
    if (curve.value[i]! >= low && curve.value[i]! <= high) out.push(i);
  return out;
}

/** Two edits of one curve as one: what the later says holds, on the ground of the earlier. */
export function bothEdits(first: CurveEdit, then: CurveEdit): CurveEdit {
  const outside = first.points.filter((p) => p.tick < then.fromTick || p.tick >= then.toTick);
  return {
    fromTick: Math.min(first.fromTick, then.fromTick),
    toTick: Math.max(first.toTick, then.toTick),
    points: sorted([...outside, ...then.points]),
  };
}

/** The stretches that a curve has by hand, with one more: what it reaches or touches becomes one. */
export function withStretch(
  stretches: readonly CurveEdit[],
  then: CurveEdit,
): readonly CurveEdit[] {
  const reached = (s: CurveEdit) => s.fromTick <= then.toTick && s.toTick >= then.fromTick;
  const one = stretches.filter(reached).reduce((all, s) => bothEdits(s, all), then);
  return [...stretches.filter((s) => !reached(s)), one].sort((a, b) => a.fromTick - b.fromTick);
}
