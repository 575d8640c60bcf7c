import type { ChainLink, Piece, Rendition } from '../score/piece';
import { isIn } from '../score/score';
import type { Target } from '../target/schema';

/**
 * The letter of each piece: the pattern that a step laid it into, else the next that none has; null
 * for those that there is no letter for.
 */
export function lettersOf(pieces: readonly Piece[], { chains }: Target): (string | null)[] {
  const patterns = chains?.patterns ?? [];
  const asked = pieces.map(({ delivery: { place } }, i) =>
    place !== undefined &&
    patterns.includes(place) &&
    pieces.findIndex((p) => p.delivery.place === place) === i
      ? place
      : null,
  );
  const free = patterns.filter((p) => !asked.includes(p));
  return asked.map((letter) => letter ?? free.shift() ?? null);
}

/** The voices of a target, numbered from 1 in the order of its seats. */
export const voiceSeats = ({ seats }: Target) => seats.filter((s) => s.kind === 'voice');

/** The chain as it was made, else every pattern once, with the voices that it has. */
export function chainOf({ pieces }: Rendition, target: Target): ChainLink[] {
  const said = pieces[0]?.chain;
  if (said && said.length > 0) return [...said];
  const seats = voiceSeats(target);
  return lettersOf(pieces, target).flatMap((pattern, i) => {
    if (pattern === null) return [];
    const taken = new Set(pieces[i]!.score.parts.filter(isIn).map((p) => p.seat));
    const voices = seats.flatMap((s, n) => (taken.has(s.id) ? [n + 1] : []));
    return [{ pattern, repeats: 1, shift: 0, voices }];
  });
}
