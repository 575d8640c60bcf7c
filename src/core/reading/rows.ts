import type { Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';
import type { Target } from '../target/schema';

/** How far a start may stand from its row at the least: what rounding to milliseconds costs. */
const ROW_WITHIN_MS = 1;

/** A strip of so many rows runs for hours at any rate: longer ones are not drawn. */
export const MOST_ROWS = 120_000;

type Grid = NonNullable<Target['grid']>;

/** The row that is nearest to a tick, from 0. */
export const rowAt = ({ clock }: Pick<Maps, 'clock'>, rate: number, tick: number): number =>
  Math.round((clock.msAt(tick) * rate) / 1000);

export interface OffRows {
  readonly notes: readonly { readonly part: Part; readonly index: number }[];
  /** How far the furthest stands from its row, in milliseconds. */
  readonly most: number;
}

/** Notes that stand on no row of a rate. */
export function offRows({ score }: Piece, { clock }: Maps, rate: number): OffRows {
  const row = 1000 / rate;
  const notes: { part: Part; index: number }[] = [];
  let most = 0;
  for (const part of score.parts.filter(isIn)) {
    for (let i = 0; i < part.notes.count; i++) {
      const ms = clock.msAt(part.notes.start[i]!);
      const off = Math.abs(ms - Math.round(ms / row) * row);
      if (off <= ROW_WITHIN_MS + 1e-6) continue;
      // Half a tick is as near as a file can say it.
      const tick = part.notes.start[i]!;
      const around = Math.max(clock.msAt(tick + 1) - ms, ms - clock.msAt(Math.max(0, tick - 1)));
      if (off <= around / 2 + 1e-6) continue;
      notes.push({ part, index: i });
      if (off > most) most = off;
    }
  }
  return { notes, most };
}

/** The rate that was chosen, else the one that the most notes fit; then by how little the rest is off; of equals the slowest. */
export function rowRateOf(piece: Piece, maps: Maps, block: Grid | undefined): number | null {
  const rates = block?.rowsPerSecond;
  if (!rates) return null;
  const chosen = Number(piece.delivery.metadata?.rowsPerSecond);
  if (rates.includes(chosen)) return chosen;
  let best = rates[0]!;
  let least = Infinity;
  for (const rate of [...rates].sort((a, b) => a - b)) {
    const { notes, most } = offRows(piece, maps, rate);
    const cost = notes.length * 10_000 + most;
    if (cost < least) [least, best] = [cost, rate];
  }
  return best;
}
