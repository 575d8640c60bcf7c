import { deliveredEnd } from '../../reading/ends';
import { mapsOf, type Maps } from '../../score/inventory';
import type { Piece } from '../../score/piece';
import type { Score } from '../../score/score';
import type { Target } from '../../target/schema';

/**
 * Whole bars until a tick, and what is left over, as a share of the next bar. Where a bar is no whole
 * number of ticks its first tick stands behind the bar line, and something is left over.
 */
export function barsUntil({ bars }: Maps, tick: number): { whole: number; over: number } {
  const exact = bars.barsAt(tick);
  const whole = Math.floor(exact + 1e-9);
  return { whole, over: exact - whole < 1e-9 ? 0 : exact - whole };
}

/** How long a piece is as it is delivered, in bars. */
export const deliveredBars = (piece: Piece) => barsUntil(mapsOf(piece.score), deliveredEnd(piece));

/** The least PPQ, a multiple of the one there is, in which every bar is a whole number of ticks. */
export function ppqForBars({ division, conductor }: Score): number | null {
  if (division.kind !== 'ppq') return null;
  const { ticksPerQuarter: own } = division;
  const whole = (ppq: number) =>
    conductor.meters.every((m) => (ppq * 4 * m.numerator) % m.denominator === 0);
  for (let ppq = own; ppq <= 32_767; ppq += own) if (whole(ppq)) return ppq;
  return null;
}

export type End = NonNullable<Target['end']>;

export const lengthAllowed = (end: End, bars: number) =>
  bars >= (end.leastBars ?? 1) &&
  bars <= (end.mostBars ?? Infinity) &&
  (end.onlyBars?.includes(bars) ?? true);
