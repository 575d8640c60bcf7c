import { areCues } from '../reading/importance/cues';
import { isDrumPart } from '../reading/importance/drums';
import type { Importance } from '../reading/importance/importance';
import { notesWhere, pickNotes } from '../score/columns';
import type { Maps } from '../score/inventory';
import type { Part } from '../score/score';
import type { Seat, Target } from '../target/schema';
import { kindOf } from '../target/seat-kind';

/** Whoever is short of it does not wait for somebody else: a line would be torn. */
const RESTS_MS = 6000;
/** So many notes are worth a change of who plays. */
const FEWEST = 12;
/** Who plays so much of what is heard elsewhere adds nothing. */
const DOUBLE = 0.7;
/** One after the other at a seat, beside who sits there. */
const MOST = 2;

/** Half-open, in ticks. */
export interface Stretch {
  readonly fromTick: number;
  readonly toTick: number;
}

/** Who plays on a seat while those who sit there rest, and where it has to be silent for that. */
export interface InRests {
  readonly part: Part;
  readonly seat: Seat;
  readonly silent: readonly Stretch[];
  /** Its notes that are heard. */
  readonly notes: number;
}

/** Where a line rests for long, before its first note and after its last as well. */
function restsOf(parts: readonly Part[], end: number, { clock }: Maps): Stretch[] {
  const starts: number[] = [];
  const ends: number[] = [];
  for (const { notes } of parts)
    for (let i = 0; i < notes.count; i++) {
      starts.push(notes.start[i]!);
      ends.push(notes.end[i]!);
    }
  const order = starts.map((_, i) => i).sort((a, b) => starts[a]! - starts[b]!);
  const out: Stretch[] = [];
  let sounds = 0;
  const rest = (toTick: number) => {
    if (clock.msAt(toTick) - clock.msAt(sounds) >= RESTS_MS) out.push({ fromTick: sounds, toTick });
  };
  for (const i of order) {
    rest(starts[i]!);
    sounds = Math.max(sounds, ends[i]!);
  }
  rest(end);
  return out;
}

/** What lies between some stretches, in order, from 0 to an end. */
function between(stretches: readonly Stretch[], end: number): Stretch[] {
  const out: Stretch[] = [];
  let from = 0;
  for (const { fromTick, toTick } of stretches) {
    if (fromTick > from) out.push({ fromTick: from, toTick: fromTick });
    from = toTick;
  }
  if (end > from) out.push({ fromTick: from, toTick: end });
  return out;
}

/** Notes that begin in some stretches; both in order. */
function within({ notes }: Part, stretches: readonly Stretch[]): number[] {
  let at = 0;
  return notesWhere(notes, (i) => {
    const start = notes.start[i]!;
    while (at < stretches.length && start >= stretches[at]!.toTick) at++;
    return at < stretches.length && start >= stretches[at]!.fromTick;
  });
}

/** What the notes are to the music; of those that are struck together the one that is missed most. */
function worthOf({ notes }: Part, list: readonly number[], importance: Importance): number {
  let [sum, moment, most] = [0, 0, 0];
  for (const i of list) {
    const id = notes.origin[i]!;
    const weight = importance.weight[id] ?? 0;
    const m = importance.moment[id] ?? 0;
    if (m === 0 || m !== moment) [sum, moment, most] = [sum + most, m, weight];
    else most = Math.max(most, weight);
  }
  return sum + most;
}

/**
 * Seats of one voice that rest for long while others are left out: whoever would be missed most plays
 * there meanwhile. Lanes, words and lists of one part are never shared.
 *
 * @param over parts without a seat
 */
export function inRests(
  target: Target,
  seated: readonly { readonly part: Part; readonly seat: Seat }[],
  over: readonly Part[],
  maps: Maps,
  importance: Importance,
): InRests[] {
  const { polyphony, chart, captions } = target;
  if (polyphony?.together !== 1 || polyphony.over !== 'seat' || chart || captions) return [];
  const all = [...seated.map((f) => f.part), ...over];
  const end = all.reduce((most, { notes }) => notes.end.reduce((a, b) => Math.max(a, b), most), 0);
  const seats = seated
    .filter((f) => f.seat.kind === 'channel' && !f.seat.hand && !f.seat.several)
    .filter((f) => kindOf(f.seat, target) !== 'drums' && !areCues(f.part))
    .map(({ part, seat }) => {
      const parts = [part];
      return { seat, parts, rests: restsOf(parts, end, maps), offers: new Map<Part, Offer>() };
    });
  const left = new Set(over.filter((p) => p.notes.count > 0 && !isDrumPart(p) && !areCues(p)));
  const heard = seated.map((f) => f.part);
  const out: InRests[] = [];
  for (;;) {
    let best: { at: (typeof seats)[number]; part: Part; offer: Offer } | null = null;
    for (const part of left) {
      if (heard.some((p) => importance.alike(part, p) >= DOUBLE)) continue;
      for (const at of seats) {
        if (at.parts.length > MOST || at.rests.length === 0) continue;
        const offer = at.offers.get(part) ?? offerOf(part, at.rests, importance);
        at.offers.set(part, offer);
        if (offer.notes.length >= FEWEST && offer.worth > (best?.offer.worth ?? 0))
          best = { at, part, offer };
      }
    }
    if (!best) return out;
    const { at, part, offer } = best;
    const { seat, rests } = at;
    out.push({ part, seat, silent: between(rests, end), notes: offer.notes.length });
    left.delete(part);
    heard.push(part);
    at.parts.push({ ...part, notes: pickNotes(part.notes, offer.notes) });
    at.rests = restsOf(at.parts, end, maps);
    at.offers.clear();
  }
}

interface Offer {
  readonly notes: readonly number[];
  readonly worth: number;
}

function offerOf(part: Part, rests: readonly Stretch[], importance: Importance): Offer {
  const notes = within(part, rests);
  return { notes, worth: worthOf(part, notes, importance) };
}
