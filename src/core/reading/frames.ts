import type { Piece } from '../score/piece';
import type { Maps } from '../score/inventory';
import { microsecondsAt } from './microseconds';

/** Frames a second that were chosen, where they are. */
export const frameRateOf = (piece: Piece): number | null => {
  const said = Number(piece.delivery.metadata?.frameRate);
  return Number.isFinite(said) && said > 0 ? said : null;
};

/** Frames by which everything is shifted; 0 where nothing is said. */
export const frameShiftOf = (piece: Piece): number =>
  Math.round(Number(piece.delivery.metadata?.frameShift ?? '0')) || 0;

/** The frame that is nearest to a tick; halves go up. */
export const frameAt = (maps: Maps, rate: number, tick: number): number =>
  Math.round((microsecondsAt(maps, tick) * rate) / 1_000_000);
