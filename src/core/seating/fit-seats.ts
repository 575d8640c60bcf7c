import type { Maps } from '../score/inventory';
import type { Part } from '../score/score';
import { allowedKeys, limitsFor } from '../target/limits';
import { heardEvents, heardIn } from '../target/heard';
import { hearsCurves } from '../target/hearing';
import type { Seat, Target } from '../target/schema';
import { count } from '../target/words';
import { assign } from './assign';
import { areCues } from '../reading/importance/cues';
import { isChordal, type Importance, type PartImportance } from '../reading/importance/importance';
import type { Role } from '../reading/importance/names';
import { kindOf } from '../target/seat-kind';
import { isNamedLike, namesAreMeant, rolesOfSeat } from './plain';
import { programFit } from './programs-alike';
import { heardWith, inTime, traitsOf, type Traits } from './traits';

/** How well a part fits a seat, from 0 to 1, and why in words. */
export interface SeatFit {
  readonly part: Part;
  readonly seat: Seat;
  readonly worth: number;
  /** Its name says that it sits there. */
  readonly named: boolean;
  readonly why: string;
}

/** Who sits where, found by fit. */
export interface Seated {
  /** One part a seat: those that together keep most of the music. */
  readonly taken: readonly SeatFit[];
  /** Other sets that differ from it, the best first. */
  readonly others: readonly (readonly SeatFit[])[];
  /** Every part on every seat that it could take, the best first. */
  readonly all: readonly SeatFit[];
  /** Parts that no seat is left for. */
  readonly over: readonly Part[];
  /** Nothing speaks for another way: by names, or because there is a seat for each. */
  readonly clear: boolean;
}

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

/** What a seat is for: by its data, else by its name. */
function partOf(seat: Seat, wanted: ReadonlySet<Role>) {
  if (seat.part) return seat.part;
  if (wanted.has('lead') || wanted.has('voice')) return 'tune';
  return wanted.has('bass') ? 'bass' : wanted.has('chords') ? 'chords' : null;
}

/** How much of what a seat is for a part has, from 0 to 1; null where it is for nothing in particular. */
function roleFit(seat: Seat, wanted: ReadonlySet<Role>, is: PartImportance | undefined) {
  const wantedPart = partOf(seat, wanted);
  if (wantedPart === null || wantedPart === 'rest' || !is) return null;
  if (wantedPart === 'tune') return Math.min(1, is.tune * 1.2);
  if (wantedPart === 'bass') return Math.min(1, is.bass * 1.2);
  return isChordal(is) ? 1 : 0;
}

/** The heaviest part of the song counts 1; a part that is hardly missed still counts a little. */
const musicOf = (is: PartImportance | undefined, most: number) =>
  is && most > 0 ? 0.1 + 0.9 * Math.sqrt(is.weight / most) : 0.5;

function fitOf(
  t: Traits,
  seat: Seat,
  target: Target,
  importance: Importance,
  most: number,
  meant: boolean,
): SeatFit {
  if (hearsCurves(target)) return fitOfEvents(t.part, seat, target);
  const wanted = rolesOfSeat(seat, target);
  const { part } = t;
  const reasons: string[] = [];
  let named = isNamedLike(part, seat);
  const worth = (value: number) => ({ part, seat, worth: value, named, why: reasons.join(', ') });
  const kind = kindOf(seat, target);
  const isSeats = named;
  if (named) reasons.push('named like the seat');
  if (named && meant) return worth(1);
  if (kind !== 'any' && t.drums !== (kind === 'drums')) {
    reasons.push(t.drums ? 'drums are for drums' : 'the seat is for drums');
    return worth(0);
  }
  if (kind !== 'any' && areCues(part)) {
    reasons.push('cues are for lamps');
    return worth(0);
  }
  const is = importance.of(part);
  const shared = [...t.roles].filter((r) => wanted.has(r));
  const role = roleFit(seat, wanted, is);
  if (is && is.brief !== '') reasons.push(is.role === 'tune' ? `the tune ${is.brief}` : is.brief);
  if (shared.length > 0) reasons.push(`its name says ${shared[0]}`);
  named ||= shared.length > 0;
  const onChannel = 'channel' in seat && seat.channel === part.channel;
  if (onChannel) reasons.push(`on channel ${part.channel}`);
  const reach = inReach(t, target, seat);
  if (reach.share < 0.999) reasons.push(`${PERCENT(reach.share)} in reach`);
  const voices = target.polyphony ? heardWith(t, target.polyphony.together) : 1;
  if (voices < 0.999) reasons.push(`${PERCENT(voices)} with its voices`);
  const apart = target.spacing?.apartMs;
  const timely = apart === undefined ? 1 : inTime(t, apart);
  if (timely < 0.999) reasons.push(`${PERCENT(timely)} far enough apart`);
  const byProgram = programFit(part, seat);
  if (byProgram > 0) reasons.push('its instrument is there');
  const hand = handFit(t, seat);
  // What is heard of it, as much as it would be missed; who is named or sounds like the seat sits
  // there rather than elsewhere.
  const heard = Math.max(0, reach.share) * voices * timely;
  const value =
    0.5 * heard * musicOf(is, most) +
    0.3 * (role ?? (is ? 0.6 * Math.max(is.tune, 0.8 * is.bass) : 0)) +
    (shared.includes('cues') ? 0.45 : shared.length > 0 ? 0.12 : 0) +
    (isSeats ? NAMED : 0) +
    (onChannel ? 0.03 : 0) +
    0.3 * byProgram +
    hand;
  return worth(Math.max(0.01, Math.min(0.99, value)));
}

/** What the name of a seat says for a part, where few parts have one. */
const NAMED = 0.2;

/** Of what listens to no notes: how much a part has that is heard. */
function fitOfEvents(part: Part, seat: Seat, target: Target): SeatFit {
  const { presets: programs, values } = heardEvents(part, target);
  const onChannel = 'channel' in seat && seat.channel === part.channel;
  const reasons = [
    ...(isNamedLike(part, seat) ? ['named like the seat'] : []),
    ...(programs > 0 ? [count(programs, 'preset')] : []),
    ...(values > 0 ? [count(values, 'value')] : []),
    ...(onChannel ? [`on channel ${part.channel}`] : []),
  ];
  const heard = programs * 10 + values;
  const worth = heard === 0 ? 0 : 0.4 + (0.4 * heard) / (heard + 20) + (onChannel ? 0.15 : 0);
  return {
    part,
    seat,
    worth: Math.min(0.99, worth),
    named: isNamedLike(part, seat),
    why: reasons.join(', '),
  };
}

/** The left hand lies low, the right hand high. */
function handFit({ middle, roles }: Traits, seat: Seat): number {
  if (!seat.hand) return 0;
  if (roles.has('left') || roles.has('right')) return roles.has(seat.hand) ? 0.1 : -0.4;
  const side = seat.hand === 'left' ? 60 - middle : middle - 60;
  return Math.max(-0.15, Math.min(0.15, side / 100));
}

/** Sets to choose from beside the best. */
const MOST_SETS = 3;
/** So much of a part is lost where one that plays the same sits already. */
const DOUBLED = 0.95;
/** What a second part of chords counts beside the first. */
const AGAIN = 0.6;

/**
 * Seats parts on the seats that are `free`: the set that keeps most of the music together, doubles of
 * each other last. The order in which the parts stand in the file does not count.
 */
export function fitSeats(
  parts: readonly Part[],
  free: readonly Seat[],
  target: Target,
  maps: Maps,
  importance: Importance,
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
  const most = Math.max(0, ...sorted.map((p) => importance.of(p)?.weight ?? 0));
  const meant = namesAreMeant(sorted, target);
  const fits = sorted.map((p) => {
    const traits = traitsOf(p, maps);
    // Of seats that fit alike the first is taken.
    return free.map((seat, n) => {
      const fit = fitOf(traits, seat, target, importance, most, meant);
      return fit.worth === 0 ? fit : { ...fit, worth: Math.max(0.005, fit.worth - n * 1e-4) };
    });
  });
  const all = fits.flat().filter((f) => f.worth > 0);
  all.sort((a, b) => b.worth - a.worth);
  const best = setOf(sorted, fits, free, importance, new Set());
  const taken = best.fits;
  const others: SeatFit[][] = [];
  const known = new Set([best.key]);
  // Without one of those that sit there, who else would; the least missed first.
  for (const out of best.rows.toReversed()) {
    if (others.length === MOST_SETS || best.rows.length >= sorted.length) break;
    const other = setOf(sorted, fits, free, importance, new Set([out]));
    if (known.has(other.key) || other.fits.length === 0) continue;
    known.add(other.key);
    others.push(other.fits);
  }
  const seated = new Set(taken.map((f) => f.part));
  const over = sorted.filter((p) => !seated.has(p));
  return { taken, others, all, over, clear: isClear(taken, all, over, free) };
}

interface Chosen {
  readonly fits: SeatFit[];
  /** Rows in the order in which they were chosen: the most missed first. */
  readonly rows: number[];
  readonly key: string;
}

/** One part after the other, whoever adds most to those that sit already. */
function setOf(
  parts: readonly Part[],
  fits: readonly (readonly SeatFit[])[],
  free: readonly Seat[],
  importance: Importance,
  without: ReadonlySet<number>,
): Chosen {
  const seating = (rows: readonly number[]) =>
    assign(
      rows.map((r) => fits[r]!.map((f) => f.worth)),
      free.length,
    );
  const worthOf = (rows: readonly number[]) =>
    seating(rows).reduce((sum, c, k) => sum + (c < 0 ? 0 : fits[rows[k]!]![c]!.worth), 0);
  const plays = (r: number) => isChordal(importance.of(parts[r]!));
  const rows: number[] = [];
  let worth = 0;
  let left = parts
    .map((_, r) => r)
    .filter((r) => !without.has(r) && fits[r]!.some((f) => f.worth > 0));
  while (left.length > 0 && rows.length < free.length) {
    let best = -1;
    let most = -Infinity;
    for (const r of left) {
      const alike = rows.reduce((m, q) => Math.max(m, importance.alike(parts[r]!, parts[q]!)), 0);
      // A second part of chords says less that is new than another line does.
      const also = plays(r) && rows.some(plays) ? AGAIN : 1;
      const adds =
        (worthOf([...rows, r]) - worth) * also * (alike >= 0.7 ? 1 - DOUBLED * alike : 1);
      if (adds > most) [most, best] = [adds, r];
    }
    // Nothing more finds a seat.
    if (most <= 1e-9) break;
    rows.push(best);
    worth = worthOf(rows);
    left = left.filter((r) => r !== best);
  }
  const columns = seating(rows);
  const seated = rows.flatMap((r, k) => (columns[k]! < 0 ? [] : [fits[r]![columns[k]!]!]));
  const order = (f: SeatFit) => free.indexOf(f.seat);
  const key = seated
    .map((f) => `${f.part.id} ${f.seat.id}`)
    .sort()
    .join('\n');
  return { fits: seated.toSorted((a, b) => order(a) - order(b)), rows, key };
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
  if (over.length === 0) return taken.every((f) => f.named) || taken.length === 1;
  if (free.length !== 1) return false;
  const [first, second] = all;
  return second === undefined || (first!.named && first!.worth - second.worth >= MARGIN);
}
