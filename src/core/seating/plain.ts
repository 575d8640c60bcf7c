import { isDrumPart, isNamedDrums } from '../reading/importance/drums';
import type { Part } from '../score/score';
import type { Seat, Target } from '../target/schema';
import { allowedKeys, limitsFor } from '../target/limits';
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

/** A kit where a line belongs, or the other way round. */
function isOfAnotherKind(part: Part, seat: Seat, target: Target): boolean {
  const kind = kindOf(seat, target);
  if (kind === 'any') return false;
  // A line on the tenth channel, with the very sound that its seat has there, is no kit.
  if (kind === 'pitched' && !isNamedDrums(part) && programFit(part, seat) === 1) return false;
  return isDrumPart(part) !== (kind === 'drums');
}

/** Its sound is none of the seat that its channel gives it, and another's. */
const soundsElsewhere = (part: Part, seat: Seat, target: Target): boolean =>
  programFit(part, seat) < 0 && target.seats.some((s) => programFit(part, s) > 0);

/**
 * Whether every note is on a key that its seat has, among keys that it has not: a scale with holes in
 * it is kept by who wrote for it, whatever sounds his file names.
 */
function keepsKeys(found: ReadonlyMap<Part, Seat>, target: Target): boolean {
  let passedBy = false;
  for (const [{ notes }, { id }] of found) {
    const limits = limitsFor(target, { seat: id });
    if (!limits?.only && !limits?.without) return false;
    const allowed = allowedKeys(limits);
    let [low, high] = [127, 0];
    for (let i = 0; i < notes.count; i++) {
      const key = notes.noteNumber[i]!;
      if (!allowed[key]) return false;
      low = Math.min(low, key);
      high = Math.max(high, key);
    }
    passedBy ||= allowed.slice(low, high).includes(false);
  }
  return passedBy;
}

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
 * made for the target: every part has a seat, and none plays what its seat is not for, or all keep to
 * keys that are not next to each other.
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
  const none = (speaks: (part: Part, seat: Seat, of: Target) => boolean) =>
    ![...found].some(([part, seat]) => speaks(part, seat, target));
  const plain =
    leaves ||
    (everybody && none(isOfAnotherKind) && (none(soundsElsewhere) || keepsKeys(found, target)));
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
