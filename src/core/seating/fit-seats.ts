import type { Maps } from '../score/inventory';
import type { Part } from '../score/score';
import { allowedKeys, limitsFor } from '../target/limits';
import { heardEvents, heardIn } from '../target/heard';
import { hearsCurves } from '../target/hearing';
import type { Seat, Target } from '../target/schema';
import { count } from '../target/words';
import { assign } from './assign';
import { rolesIn, type Role } from './roles';
import { heardWith, inTime, traitsOf, type Traits } from './traits';

/** How well a part fits a seat, from 0 to 1, and why in words. */
export interface SeatFit {
  readonly part: Part;
  readonly seat: Seat;
  readonly worth: number;
  readonly why: string;
}

/** Who sits where, found by fit. */
export interface Seated {
  /** One part a seat, the best sum over all. */
  readonly taken: readonly SeatFit[];
  /** Every part on every seat that it could take, the best first. */
  readonly all: readonly SeatFit[];
  /** Parts that no seat is left for. */
  readonly over: readonly Part[];
  /** Nothing speaks for another way: by names, or because there is a seat for each. */
  readonly clear: boolean;
}

const seatTrack = (seat: Seat) => ('track' in seat ? (seat.track ?? '') : '');
const same = (a: string, b: string) =>
  a !== '' && a.trim().toLowerCase() === b.trim().toLowerCase();

/** Roles that a seat is for. */
function rolesOf(seat: Seat, target: Target): Set<Role> {
  const out = rolesIn(`${seat.name} ${seatTrack(seat)}`);
  if (seat.hand) out.add(seat.hand);
  if (target.clock?.of !== 'first-note' && target.clock && target.seats.length === 1)
    out.add('cues');
  if ('channel' in seat && seat.channel === 10) out.add('drums');
  return out;
}

/** Lanes and captions take any instrument; drums else belong to drums alone. */
const takesAnything = (seat: Seat, target: Target) =>
  seat.kind === 'laneGroup' ||
  target.chart !== undefined ||
  target.captions !== undefined ||
  target.clock?.shift === 'common';

/** The share of its notes that the seat has, moved by the best octave; and by which. */
function inReach(t: Traits, target: Target, seat: Seat): { share: number; octaves: number } {
  const limits = limitsFor(target, { seat: seat.id });
  // What is laid on lanes has no pitch any more.
  if (!limits || seat.kind === 'laneGroup' || target.captions) return { share: 1, octaves: 0 };
  const allowed = allowedKeys(limits);
  let best = { share: -1, octaves: 0 };
  for (const octaves of [0, 1, -1, 2, -2, 3, -3]) {
    let fits = 0;
    for (let key = 0; key < 128; key++)
      if (allowed[key + octaves * 12] === true) fits += t.keys[key]!;
    const share = fits / Math.max(1, t.part.notes.count) - Math.abs(octaves) * 0.001;
    if (share > best.share) best = { share, octaves };
  }
  return best;
}

const PERCENT = (x: number) => `${Math.round(Math.max(0, Math.min(1, x)) * 100)} %`;

function fitOf(t: Traits, seat: Seat, target: Target): SeatFit {
  if (hearsCurves(target)) return fitOfEvents(t.part, seat, target);
  const wanted = rolesOf(seat, target);
  const { part } = t;
  const reasons: string[] = [];
  const worth = (value: number) => ({ part, seat, worth: value, why: reasons.join(', ') });
  const named = same(part.name, seat.name) || same(part.name, seatTrack(seat));
  if (named) {
    reasons.push('named like the seat');
    return worth(1);
  }
  if (t.drums !== wanted.has('drums') && !takesAnything(seat, target)) {
    reasons.push(t.drums ? 'drums are for drums' : 'the seat is for drums');
    return worth(0);
  }
  const shared = [...t.roles].filter((r) => wanted.has(r));
  if (shared.length > 0) reasons.push(`its name says ${shared[0]}`);
  const onChannel = 'channel' in seat && seat.channel === part.channel;
  if (onChannel) reasons.push(`on channel ${part.channel}`);
  const reach = inReach(t, target, seat);
  if (reach.share < 0.999) reasons.push(`${PERCENT(reach.share)} in reach`);
  const voices = target.polyphony ? heardWith(t, target.polyphony.together) : 1;
  if (voices < 0.999) reasons.push(`${PERCENT(voices)} with its voices`);
  const apart = target.spacing?.apartMs;
  const timely = apart === undefined ? 1 : inTime(t, apart);
  if (timely < 0.999) reasons.push(`${PERCENT(timely)} far enough apart`);
  const byProgram = programFit(t, seat);
  if (byProgram > 0) reasons.push('its instrument is there');
  const lead = t.roles.has('lead') ? 0.06 : t.drums ? -0.12 : 0;
  const hand = handFit(t, seat);
  // What would be lost counts most: the product tells how many of its notes would be heard.
  const heard = Math.max(0, reach.share) * voices * timely;
  const value =
    0.5 * heard +
    (shared.length > 0 ? 0.32 : 0) +
    (onChannel ? 0.05 : 0) +
    0.1 * byProgram +
    hand +
    lead +
    Math.min(0.04, part.notes.count / 20_000);
  return worth(Math.max(0.01, Math.min(0.99, value)));
}

/** Of what listens to no notes: how much a part has that is heard. */
function fitOfEvents(part: Part, seat: Seat, target: Target): SeatFit {
  const { presets: programs, values } = heardEvents(part, target);
  const onChannel = 'channel' in seat && seat.channel === part.channel;
  const reasons = [
    ...(same(part.name, seat.name) ? ['named like the seat'] : []),
    ...(programs > 0 ? [count(programs, 'preset')] : []),
    ...(values > 0 ? [count(values, 'value')] : []),
    ...(onChannel ? [`on channel ${part.channel}`] : []),
  ];
  const heard = programs * 10 + values;
  const worth = heard === 0 ? 0 : 0.4 + (0.4 * heard) / (heard + 20) + (onChannel ? 0.15 : 0);
  return { part, seat, worth: Math.min(0.99, worth), why: reasons.join(', ') };
}

/** Whether the seat's own sounds hold the part's program, or one of its family. */
function programFit({ part }: Traits, seat: Seat): number {
  if (!seat.sounds || seat.sounds.length === 0) return 0;
  const program = part.events.count > 0 ? firstProgram(part) : null;
  if (program === null) return 0;
  if (seat.sounds.some((s) => s.program === program)) return 1;
  return seat.sounds.some((s) => s.program >> 3 === program >> 3) ? 0.6 : 0;
}

function firstProgram({ events }: Part): number | null {
  for (let i = 0; i < events.count; i++) if (events.kind[i] === 0xc0) return events.data1[i]!;
  return null;
}

/** The left hand lies low, the right hand high. */
function handFit({ middle, roles }: Traits, seat: Seat): number {
  if (!seat.hand) return 0;
  if (roles.has('left') || roles.has('right')) return roles.has(seat.hand) ? 0.1 : -0.4;
  const side = seat.hand === 'left' ? 60 - middle : middle - 60;
  return Math.max(-0.15, Math.min(0.15, side / 100));
}

/**
 * Seats parts by how well they fit: `parts` on the seats that are `free`. The order in which the
 * parts stand in the file does not count.
 */
export function fitSeats(
  parts: readonly Part[],
  free: readonly Seat[],
  target: Target,
  maps: Maps,
): Seated {
  // Parts that set up a channel and play nothing need no seat.
  const playing = parts.filter((p) => heardIn(p, target) > 0);
  const sorted = [...playing].sort(
    (a, b) =>
      (a.name < b.name ? -1 : a.name > b.name ? 1 : 0) ||
      a.channel - b.channel ||
      b.notes.count - a.notes.count ||
      (a.notes.start[0] ?? 0) - (b.notes.start[0] ?? 0),
  );
  const fits = sorted.map((p) => {
    const traits = traitsOf(p, maps);
    // Of seats that fit alike the first is taken.
    return free.map((seat, n) => {
      const fit = fitOf(traits, seat, target);
      return fit.worth === 0 ? fit : { ...fit, worth: Math.max(0.005, fit.worth - n * 1e-4) };
    });
  });
  const columns = assign(
    fits.map((row) => row.map((f) => f.worth)),
    free.length,
  );
  const taken = columns.flatMap((c, r) => (c < 0 ? [] : [fits[r]![c]!]));
  const seated = new Set(taken.map((f) => f.part));
  const all = fits.flat().filter((f) => f.worth > 0);
  all.sort((a, b) => b.worth - a.worth);
  const over = sorted.filter((p) => !seated.has(p));
  return { taken, all, over, clear: isClear(taken, all, over, free) };
}

const MARGIN = 0.12;

/** A seat for each; or the one seat has a part that stands well before the next. */
function isClear(
  taken: readonly SeatFit[],
  all: readonly SeatFit[],
  over: readonly Part[],
  free: readonly Seat[],
): boolean {
  if (taken.length === 0) return false;
  if (over.length === 0 && free.length !== 2) return true;
  if (over.length === 0) return taken.every((f) => f.why.includes('name')) || taken.length === 1;
  if (free.length !== 1) return false;
  const [first, second] = all;
  return first!.worth >= 0.6 && (second === undefined || first!.worth - second.worth >= MARGIN);
}
