import type { Maps } from '../../score/inventory';
import type { Target } from '../../target/schema';

/** Whole bars until a tick, and what is left over, as a share of the next bar. */
export function barsUntil({ bars }: Maps, tick: number): { whole: number; over: number } {
  const whole = bars.barAt(tick);
  const from = bars.barStart(whole);
  return { whole, over: tick === from ? 0 : (tick - from) / (bars.barStart(whole + 1) - from) };
}

export type End = NonNullable<Target['end']>;

export const lengthAllowed = (end: End, bars: number) =>
  bars >= (end.leastBars ?? 1) &&
  bars <= (end.mostBars ?? Infinity) &&
  (end.onlyBars?.includes(bars) ?? true);
