import type { LaidPiece } from './job';

/** What is compared: pitch classes that begin in each quarter of a bar, by the clock of the way. */
const CLASSES = 12;
const SHARES = 4;
const BARS = 8;

/** Counts by bar, share of the bar and pitch class; the bars are those of `by`. */
function begins(piece: LaidPiece, by: LaidPiece, shiftMs: number, count: number): Uint16Array {
  const out = new Uint16Array(count * SHARES * CLASSES);
  for (const part of piece.parts) {
    if (part.leftOut) continue;
    const { start, noteNumber, count: notes } = part.columns;
    for (let i = 0; i < notes; i++) {
      const tick = by.clock.tickAt(Math.max(0, piece.clock.msAt(start[i]!) + shiftMs + 5));
      const bar = by.bars.barAt(tick);
      if (bar >= count) continue;
      const from = by.bars.barStart(bar);
      const length = by.bars.barStart(bar + 1) - from;
      const share = Math.min(SHARES - 1, Math.floor(((tick - from) * SHARES) / length));
      out[(bar * SHARES + share) * CLASSES + (noteNumber[i]! % CLASSES)]!++;
    }
  }
  return out;
}

/**
 * The eight bars in which a way and the source sound least alike: the most beginnings of pitch classes,
 * quarter bar by quarter bar, that the one has and the other has not.
 *
 * @param shiftMs by which the way stands later than the source
 * @returns bars of the way from 0, half-open
 */
export function leastAlike(
  source: LaidPiece,
  way: LaidPiece,
  shiftMs: number,
): { from: number; to: number } {
  const count = Math.max(1, way.bars.barCount(way.endTick));
  const a = begins(source, way, shiftMs, count);
  const b = begins(way, way, 0, count);
  const perBar = new Float64Array(count);
  for (let i = 0; i < a.length; i++)
    perBar[Math.floor(i / (SHARES * CLASSES))]! += Math.abs(a[i]! - b[i]!);
  const width = Math.min(BARS, count);
  let [sum, most, from] = [0, -1, 0];
  for (let bar = 0; bar < count; bar++) {
    sum += perBar[bar]! - (bar >= width ? perBar[bar - width]! : 0);
    if (bar >= width - 1 && sum > most + 1e-9) {
      most = sum;
      from = bar - width + 1;
    }
  }
  return { from, to: from + width };
}
