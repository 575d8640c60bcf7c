import { atRate, heldError, stepsWithin } from './simplify';

/** A curve as a thinning would leave it, worked out as the step works it out. */
export interface Thinned {
  readonly within: number;
  readonly tick: Int32Array;
  readonly value: Uint16Array;
  /** The largest distance of what would be held from what is. */
  readonly error: number;
}

export function thinnedBy(
  { tick, value }: Pick<Thinned, 'tick' | 'value'>,
  within: number,
  perSecond: number | undefined,
  usAt: (tick: number) => number,
): Thinned {
  const points = Array.from(tick, (at, i) => ({ tick: at, value: value[i]! }));
  const steps = stepsWithin(points, within).points;
  const kept = perSecond ? atRate(steps, perSecond, usAt) : steps;
  return {
    within,
    tick: Int32Array.from(kept, (p) => p.tick),
    value: Uint16Array.from(kept, (p) => p.value),
    error: heldError(points, kept),
  };
}
