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
  { whole, over }: Length,
): boolean {
  const bars = whole + over;
  return (
    (onlyBars?.some((n) => Math.abs(n - bars) < 1e-9) ?? true) &&
    bars >= (leastBars ?? 0) - 1e-9 &&
    bars <= (mostBars ?? Infinity) + 1e-9 &&
    (onlyBars !== undefined || leastBars === undefined || over === 0)
  );
}

/** What none of some pieces takes. */
export function freePlaces(pieces: readonly Piece[], seats: readonly Seat[]): FileSeat[] {
  const taken = new Set(pieces.map((p) => placeOfPiece(p, seats)?.id));
  return placesOf(seats).filter((s) => !taken.has(s.id));
}

interface Length {
  readonly whole: number;
  readonly over: number;
}

/**
 * Whoever takes which of some places, each one for itself: first what may not stay empty, then what
 * is not for one length alone, then what takes it as long as it is. Where none is left, undefined.
 */
export function inPlaces(
  lengths: readonly Length[],
  places: readonly FileSeat[],
): (FileSeat | undefined)[] {
  let free = places;
  return lengths.map((length) => {
    // Of what plays nothing the length says nothing.
    const fits = (s: FileSeat) => length.whole + length.over === 0 || takes(s, length);
    const rank = (s: FileSeat) => (s.optional ? 4 : 0) + (s.onlyBars ? 2 : 0) + (fits(s) ? 0 : 1);
    const [first] = [...free].sort((a, b) => rank(a) - rank(b));
    free = free.filter((s) => s !== first);
    return first;
  });
}
