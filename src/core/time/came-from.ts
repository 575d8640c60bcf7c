import type { Clock } from './tempo-map';
import { SAME_TIME, mapper, unmapTick, type TimeMap } from './time-map';

/** A score at some stage of its plan, by its clock. */
export interface OnClock {
  readonly fromBase?: TimeMap | null | undefined;
  readonly clock: Clock;
}

/** What was opened up is told on both sides of a moment; less than two of these is not seen. */
const BESIDE_MS = 40;

/**
 * Where a moment of a score stood before its plan moved time, from milliseconds to milliseconds; null
 * where nothing did: in bars of rest that were put in.
 */
export function cameFrom(now: OnClock, before: OnClock): (ms: number) => number | null {
  const back = (ms: number) =>
    unmapTick(now.fromBase ?? undefined, now.clock.tickAt(Math.max(0, ms)));
  const forth = mapper(before.fromBase ?? SAME_TIME);
  return (ms) => {
    const tick = back(ms);
    // What was opened up came from one tick, all of it.
    if (ms < 0 || back(ms - BESIDE_MS) === back(ms + BESIDE_MS)) return null;
    return before.clock.msAt(forth(tick));
  };
}
