import type { Happening } from '../../core/standin/played';
import { limitsFor, allowedKeys } from '../../core/target/limits';
import type { Seat, Target } from '../../core/target/schema';

export const seatNamed = (target: Target, id: string): string =>
  target.seats.find((s) => s.id === id)?.name ?? id;

/** Seats that play, in the order of the target; those that it does not name come last. */
export function seatsIn(events: readonly Happening[], target: Target): string[] {
  const there = new Set(events.map((e) => e.seat));
  const named = target.seats.map((s) => s.id);
  // Channel 2 stands before channel 10.
  const byNumber = (a: string, b: string) => a.localeCompare(b, 'en', { numeric: true });
  return [...named, ...[...there].filter((s) => !named.includes(s)).sort(byNumber)];
}

/** Keys that a device has; where it names none, those that are played. */
export function keysOf(events: readonly Happening[], target: Target): number[] {
  const limits = target.notes ? limitsFor(target, { seat: null }) : null;
  const allowed = limits && allowedKeys(limits);
  if (allowed && allowed.some((a) => !a)) return allowed.flatMap((yes, key) => (yes ? [key] : []));
  let [low, high] = [127, 0];
  for (const { key } of events) {
    if (key < low) low = key;
    if (key > high) high = key;
  }
  if (high < low) [low, high] = [48, 72];
  return Array.from({ length: high - low + 1 }, (_, i) => low + i);
}

export const laneSeat = (
  target: Target,
  id: string,
): Extract<Seat, { kind: 'laneGroup' }> | null => {
  const seat = target.seats.find((s) => s.id === id);
  return seat?.kind === 'laneGroup' ? seat : null;
};
