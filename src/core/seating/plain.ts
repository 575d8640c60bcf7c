import { isDrumPart } from '../reading/importance/drums';
import type { Part } from '../score/score';
import type { Seat, Target } from '../target/schema';
import { kindOf } from '../target/seat-kind';
import { rolesIn, type Role } from '../reading/importance/names';
import { programFit } from './programs-alike';

const trackOf = (seat: Seat): string | null => ('track' in seat ? (seat.track ?? null) : null);
const sameName = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();

export const isNamedLike = (part: Pick<Part, 'name'>, seat: Seat): boolean =>
  sameName(part.name, seat.name) || sameName(part.name, trackOf(seat) ?? '');

/**
 * Whether names of seats are believed: where half of the parts and more have one. An orchestra has horns
 * of its own, which are not meant for a target of horns.
 */
export const namesAreMeant = (parts: readonly Part[], { seats }: Target): boolean =>
  2 * parts.filter((p) => seats.some((s) => isNamedLike(p, s))).length >= parts.length;

/** Roles that a seat is for, by its name, its hand and what the target does. */
export function rolesOfSeat(seat: Seat, target: Target): Set<Role> {
  const out = new Set(rolesIn(`${seat.name} ${trackOf(seat) ?? ''}`));
  if (seat.hand) out.add(seat.hand);
  if (target.clock && target.clock.of !== 'first-note' && target.seats.length === 1)
    out.add('cues');
  return out;
}

/** Whether somebody moved it to its channel: then that was meant. */
const isMoved = (part: Part): boolean => part.channel !== part.ref.channel;

/** What a part plays does not belong on a seat that its channel gives it, and would on another. */
const contradicts = (part: Part, seat: Seat, target: Target): boolean => {
  const kind = kindOf(seat, target);
  if (kind !== 'any' && isDrumPart(part) !== (kind === 'drums')) return true;
  return programFit(part, seat) < 0 && target.seats.some((s) => programFit(part, s) > 0);
};

const isOnChannel = (part: Part, seat: Seat): boolean =>
  'channel' in seat && seat.channel === part.channel;

/** Its name says what the seat is for, and it stands on its channel. */
const speaksFor = (part: Part, seat: Seat, target: Target): boolean => {
  const wanted = rolesOfSeat(seat, target);
  return isOnChannel(part, seat) && [...rolesIn(part.name)].some((role) => wanted.has(role));
};

/**
 * Which parts a file gives a seat by its channels and names alone. A channel number says little: it
 * is believed where it was chosen, where the part is named like the seat too, or where the file is plainly
 * made for the target: every part has a seat, and none plays what its seat is not for.
 */
export function plainSeats(
  parts: readonly Part[],
  target: Target,
  seatFor: (part: Part) => Seat | undefined,
): Map<Part, Seat> {
  const found = new Map(
    parts.flatMap((part) => {
      const seat = seatFor(part);
      return seat ? [[part, seat] as const] : [];
    }),
  );
  const leaves = target.seating?.unseated === 'leave-out';
  const everybody = parts.every((p) => found.has(p) || p.seatChosen || p.leftOut);
  const plain =
    leaves || (everybody && [...found].every(([part, seat]) => !contradicts(part, seat, target)));
  const meant = namesAreMeant(parts, target);
  return plain
    ? found
    : new Map(
        [...found].filter(
          ([part, seat]) =>
            isMoved(part) ||
            (isNamedLike(part, seat) && (meant || isOnChannel(part, seat))) ||
            speaksFor(part, seat, target),
        ),
      );
}
