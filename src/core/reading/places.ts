import type { Piece } from '../score/piece';
import type { Seat } from '../target/schema';

export type FileSeat = Extract<Seat, { kind: 'file' }>;

export const placesOf = (seats: readonly Seat[]): FileSeat[] =>
  seats.filter((s): s is FileSeat => s.kind === 'file');

/** The place that a piece takes: as a step said, else by the name of its file. */
export const placeOfPiece = ({ delivery }: Piece, seats: readonly Seat[]): FileSeat | undefined =>
  placesOf(seats).find((s) => s.id === delivery.place) ??
  placesOf(seats).find((s) => s.fileName.toLowerCase() === delivery.fileName.toLowerCase());

/** Whether a place takes a piece of this length. */
export function takes(
  { onlyBars, leastBars, mostBars }: FileSeat,
  { whole, over }: { whole: number; over: number },
): boolean {
  const bars = whole + over;
  return (
    (onlyBars?.some((n) => Math.abs(n - bars) < 1e-9) ?? true) &&
    bars >= (leastBars ?? 0) - 1e-9 &&
    bars <= (mostBars ?? Infinity) + 1e-9 &&
    (onlyBars !== undefined || leastBars === undefined || over === 0)
  );
}
