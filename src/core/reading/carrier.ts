import type { Part, Score } from '../score/score';
import type { Target } from '../target/schema';

/**
 * Whether a part is the one soft note through the whole length that a carrier of tempos asks for, as
 * its step writes it.
 */
export function isCarrier(
  { notes, channel, track }: Part,
  { tracks }: Score,
  wanted: NonNullable<Target['carrier']>,
): boolean {
  const end = tracks.reduce((latest, t) => Math.max(latest, t.endTick), 0);
  return (
    notes.count === 1 &&
    channel === wanted.channel &&
    notes.noteNumber[0] === wanted.noteNumber &&
    notes.velocity[0] === wanted.velocity &&
    notes.start[0] === 0 &&
    notes.end[0]! >= end &&
    tracks[track]?.name === wanted.track
  );
}
