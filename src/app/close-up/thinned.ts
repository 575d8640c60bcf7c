import { atRate, heldError, stepsWithin } from '../../core/steps/curves/simplify';
import type { CurveView } from '../../core/wire/view';
import type { CurvePoint } from '../stores/curve-edit';

/** A curve as a thinning would leave it, worked out as the step works it out. */
export interface Thinned {
  readonly within: number;
  readonly points: readonly CurvePoint[];
  /** The largest distance of what would be held from what is. */
  readonly error: number;
}

export function thinnedBy(
  { tick, value }: Pick<CurveView, 'tick' | 'value'>,
  within: number,
  perSecond: number | undefined,
  usAt: (tick: number) => number,
): Thinned {
  const points = Array.from(tick, (at, i): CurvePoint => ({ tick: at, value: value[i]! }));
  const steps = stepsWithin(points, within).points;
  const kept = perSecond ? atRate(steps, perSecond, usAt) : steps;
  return { within, points: kept, error: heldError(points, kept) };
}
