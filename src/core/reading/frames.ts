import type { Piece } from '../score/piece';
import type { Maps } from '../score/inventory';

/** Frames a second that were chosen, where they are. */
export const frameRateOf = (piece: Piece): number | null => {
  const said = Number(piece.delivery.metadata?.frameRate);
  return Number.isFinite(said) && said > 0 ? said : null;
};

/** Frames by which everything is shifted; 0 where nothing is said. */
export const frameShiftOf = (piece: Piece): number =>
  Math.round(Number(piece.delivery.metadata?.frameShift ?? '0')) || 0;

/** The frame that is nearest to a tick; halves go up. */
export const frameAt = ({ clock }: Maps, rate: number, tick: number): number =>
  // Exactly by the clock: of whole microseconds a half lacks up to half of one, and goes down.
  Math.floor((clock.msAt(tick) * rate) / 1000 + 0.5 + HAIR);
const HAIR = 1e-9;
