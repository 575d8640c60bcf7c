import { deliveredEnd } from '../reading/ends';
import { rowFit, type RowFit } from '../reading/row-fit';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { toRowRate } from '../steps/row-rate';
import type { StepCall } from '../steps/call';
import type { Target } from '../target/schema';

/** What a row rate would do to a piece. */
export interface RowRate extends RowFit {
  /** How long the piece lasts then, and how much longer that is than now; milliseconds. */
  readonly lengthMs: number;
  readonly driftMs: number;
  /** Rows that it takes, and whether the target holds as many. */
  readonly rows: number;
  readonly fits: boolean;
  readonly steps: readonly StepCall[];
}

/** A speed that brings the notes less than this much nearer is not worth another tempo. */
const WORTH = 0.6;

/** Every rate of the target, at its speed and at the one that suits it better; slowest first. */
export function rowRatesOf(piece: Piece, target: Target): RowRate[] {
  const { rowsPerSecond = [], mostRows = Infinity } = target.grid ?? {};
  const { clock } = mapsOf(piece.score);
  const nowMs = clock.msAt(deliveredEnd(piece));
  const maySpeed =
    piece.score.division.kind === 'ppq' &&
    target.clock === undefined &&
    target.end?.soundWithinMs === undefined;
  return [...rowsPerSecond]
    .sort((a, b) => a - b)
    .flatMap((rate) => {
      const asIs = rowFit(piece, rate, false);
      const free = maySpeed ? rowFit(piece, rate, true) : asIs;
      const better = free.percent !== 100 && free.mostMs < asIs.mostMs * WORTH;
      return better ? [asIs, free] : [asIs];
    })
    .map((fit): RowRate => {
      const lengthMs = (nowMs * 100) / fit.percent;
      const rows = Math.round((lengthMs * fit.rate) / 1000) + 1;
      return {
        ...fit,
        lengthMs,
        driftMs: lengthMs - nowMs,
        rows,
        fits: rows <= mostRows,
        steps: toRowRate(fit.rate, fit.percent),
      };
    });
}
