import type { Part, Score } from '../score/score';
import { heardIn } from '../target/heard';
import { isNamedLike, plainSeats } from '../seating/plain';
import { isCarrier } from '../reading/carrier';
import { hearsCurves } from '../target/hearing';
import type { Seat, Target } from '../target/schema';
import { kindOfTarget } from '../target/seat-kind';
import { isDrumPart } from '../reading/importance/drums';

const channelOf = (seat: Seat): number | null => ('channel' in seat ? seat.channel : null);

/**
 * The seat of each part where the user chose none: by the channel, and the name where seats share
 * one; else by the name; else the only part that is heard takes the only seat; as far as the file is
 * plainly made for the target (`plain.ts`). A target that says so leaves out what has none.
 */
export function seatByDefault(score: Score, target: Target): Score {
  const listens = hearsCurves(target);
  const playing = score.parts.filter((p) => heardIn(p, target) > 0);
  const seatFor = (part: Part): Seat | undefined => {
    // What only sets a channel up is no part for who listens to more than notes.
    if (listens && !playing.includes(part)) return undefined;
    const onChannel = target.seats.filter((s) => channelOf(s) === part.channel);
    if (onChannel.length === 1) return onChannel[0];
    if (onChannel.length > 1) return onChannel.find((s) => isNamedLike(part, s));
    const named = target.seats.find((s) => isNamedLike(part, s));
    if (named) return named;
    return playing.length === 1 && playing[0] === part && target.seats.length === 1
      ? target.seats[0]
      : undefined;
  };
  // Seats that are files are taken by pieces.
  if (target.seats.some((s) => s.kind === 'file')) return withoutPitched(score, target);
  const leavesOut = target.seating?.unseated === 'leave-out';
  // What is the carrier note already needs no seat, as the step that writes it says.
  const isOurs = (part: Part) =>
    target.carrier !== undefined && isCarrier(part, score, target.carrier);
  const seats = plainSeats(
    score.parts.filter((p) => !p.seatChosen && heardIn(p, target) > 0),
    target,
    seatFor,
  );
  const silent = (part: Part) => (heardIn(part, target) > 0 ? undefined : seatFor(part));
  const parts = score.parts.map((part): Part => {
    if (part.seatChosen) return part;
    const seat = seats.get(part) ?? silent(part);
    if (seat) return { ...part, seat: seat.id };
    if (isOurs(part)) return { ...part, seatChosen: true };
    return leavesOut ? { ...part, leftOut: true } : part;
  });
  return { ...score, parts };
}

/** What plays drums alone takes no line, unless somebody said that it is drums. */
function withoutPitched(score: Score, target: Target): Score {
  if (kindOfTarget(target) !== 'drums') return score;
  const out = (p: Part) => !p.seatChosen && !p.leftOut && p.notes.count > 0 && !isDrumPart(p);
  if (!score.parts.some(out)) return score;
  return { ...score, parts: score.parts.map((p) => (out(p) ? { ...p, leftOut: true } : p)) };
}
