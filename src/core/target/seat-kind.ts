import type { Seat, Target } from './schema';

/** What may sit at a seat: lines and chords, drums, or either. */
export type SeatKind = 'pitched' | 'drums' | 'any';

const DRUM_CHANNEL = 10;

/** What of a target tells what it is for. */
type Purpose = Pick<Target, 'seating' | 'chart' | 'captions' | 'clock'>;

/** Lanes, words and cues have no pitch: what is laid on them may be of anybody. */
const hasNoPitch = ({ chart, captions, clock }: Purpose): boolean =>
  chart !== undefined || captions !== undefined || clock?.shift === 'common';

/** What all of a target is for, where its seats say nothing else. */
export const kindOfTarget = (target: Purpose): SeatKind | null =>
  target.seating?.takes ?? (hasNoPitch(target) ? 'any' : null);

/**
 * By the seat's own data, else by that of the target; else lanes take anybody and the tenth channel
 * is for drums (General MIDI Level 1).
 */
export function kindOf(seat: Seat, target: Purpose): SeatKind {
  if (seat.takes) return seat.takes;
  const all = kindOfTarget(target);
  if (all !== null) return all;
  if (seat.kind === 'laneGroup') return 'any';
  const drums = 'channel' in seat && seat.channel === DRUM_CHANNEL;
  return drums || /\b(drums?|kit|percussion)\b/i.test(seat.name) ? 'drums' : 'pitched';
}

/** Whether anything of a kind can be held at all. */
export function holds(target: Target, kind: 'pitched' | 'drums'): boolean {
  const all = target.seats.map((s) => kindOf(s, target));
  if (all.length === 0) return (kindOfTarget(target) ?? 'any') !== other(kind);
  return all.some((k) => k === kind || k === 'any');
}
const other = (kind: 'pitched' | 'drums') => (kind === 'drums' ? 'pitched' : 'drums');
