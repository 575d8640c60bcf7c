import { notesTogether } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import { isDrumPart } from '../reading/importance/drums';
import { areCues } from '../reading/importance/cues';
import type { Importance } from '../reading/importance/importance';
import { isIn, type Part } from '../score/score';
import type { Seat, Target } from '../target/schema';
import { kindOf } from '../target/seat-kind';

/** How many notes at once a seat, or all of a target, can have; null where one part is a seat's. */
function voicesOf({ polyphony, grid, chart, captions, clock }: Target): {
  readonly together: number;
  readonly all: boolean;
  /** Only what is struck at one moment counts: a hole has no length. */
  readonly struck: boolean;
} | null {
  // Lanes, words and cues are of one part: two would be played against each other.
  if (chart || captions || clock) return null;
  if (polyphony)
    return polyphony.together < 2
      ? null
      : { together: polyphony.together, all: polyphony.over === 'all', struck: false };
  return grid?.mostInRow === undefined
    ? null
    : { together: grid.mostInRow, all: true, struck: true };
}

/** The share of the notes of some parts that begin while no more than so many sound, or are struck. */
export function shareTogether(
  parts: readonly Part[],
  { together, struck }: { readonly together: number; readonly struck: boolean },
): number {
  const notes = notesTogether(parts);
  if (struck) {
    let [heard, at] = [0, 0];
    for (let i = 0; i < notes.count; i++) {
      at = i > 0 && notes.start[i] === notes.start[i - 1] ? at + 1 : 1;
      if (at <= together) heard++;
    }
    return notes.count === 0 ? 1 : heard / notes.count;
  }
  const sounding = new Sounding(notes);
  let heard = 0;
  for (let i = 0; i < notes.count; i++) {
    sounding.until(notes.start[i]!);
    if (notes.end[i]! > notes.start[i]!) sounding.add(i);
    if (sounding.count <= together) heard++;
  }
  return notes.count === 0 ? 1 : heard / notes.count;
}

/** Who plays so much of what another plays is a double of it. */
const DOUBLE = 0.9;
/** So much of what plays together must be heard, else a double is rather left out. */
const HEARD = 0.97;
/** So much of what a part is to the music it has to add; what is missed least goes for it. */
const ADDS = 0.5;

/**
 * What some parts keep of the music together: in each moment as many notes as there are voices,
 * those that are missed most. Each note is looked at once; of a full moment the least that is held is
 * known, so that what is added is never told too high.
 */
class Held {
  private readonly held: Uint8Array;
  private readonly least: Float32Array;
  constructor(
    private readonly importance: Importance,
    private readonly voices: number,
  ) {
    this.held = new Uint8Array(importance.moments + 1);
    this.least = new Float32Array(importance.moments + 1);
  }
  /** What a part adds; it stays only where that is enough. */
  take({ notes }: Part, enough: number): boolean {
    const { weight, moment } = this.importance;
    const before: [m: number, held: number, least: number][] = [];
    let adds = 0;
    for (let i = 0; i < notes.count; i++) {
      const id = notes.origin[i]!;
      const m = moment[id] ?? 0;
      if (m === 0) continue;
      const w = weight[id]!;
      const [held, least] = [this.held[m]!, this.least[m]!];
      if (held >= this.voices && w <= least) continue;
      before.push([m, held, least]);
      const full = held >= this.voices;
      adds += full ? w - least : w;
      if (!full) this.held[m]!++;
      this.least[m] = full || held === 0 ? w : Math.min(least, w);
    }
    if (adds >= enough) return true;
    for (const [m, held, least] of before.reverse()) [this.held[m], this.least[m]] = [held, least];
    return false;
  }
}

/**
 * Parts that may share a seat with those that are there: one after the other, what is missed most
 * first, as long as most of what it is to the music is heard then. Seats that say so take several.
 * Drums and hands share with nobody else; doubles only where nearly all of what plays is heard.
 * @param over parts without a seat
 */
export function sharing(
  target: Target,
  seated: readonly { readonly part: Part; readonly seat: Seat }[],
  over: readonly Part[],
  importance: Importance,
): { readonly part: Part; readonly seat: Seat }[] {
  const out: { readonly part: Part; readonly seat: Seat }[] = [];
  const groups = groupsOf(target, seated, importance);
  const open = target.seats.filter((s) => s.several);
  const missed = (p: Part) => {
    const is = importance.of(p);
    return is ? is.weight * (1 + is.tune + is.bass) : 0;
  };
  for (const part of [...over].sort((a, b) => missed(b) - missed(a))) {
    if (part.notes.count === 0 || areCues(part)) continue;
    const drums = isDrumPart(part);
    const free = open.find(
      (s) => kindOf(s, target) === 'any' || (kindOf(s, target) === 'drums') === drums,
    );
    if (free) {
      out.push({ part, seat: free });
      continue;
    }
    if (drums) continue;
    const enough = ADDS * (importance.of(part)?.weight ?? Infinity);
    for (const group of groups) {
      const alike = group.parts.some((p) => importance.alike(part, p) >= DOUBLE);
      if (alike && shareTogether([...group.parts, part], group.voices) < HEARD) continue;
      if (!group.held.take(part, enough)) continue;
      group.parts.push(part);
      // Of seats that hear it as well the one with fewer parts.
      const seat = [...group.seats].sort((a, b) => a.parts - b.parts)[0]!;
      seat.parts++;
      out.push({ part, seat: seat.seat });
      break;
    }
  }
  return out;
}

/** Seats that share their voices, with those who sit there: all of a target, or each by itself. */
interface Group {
  readonly voices: NonNullable<ReturnType<typeof voicesOf>>;
  readonly seats: { readonly seat: Seat; parts: number }[];
  readonly parts: Part[];
  readonly held: Held;
}

function groupsOf(
  target: Target,
  seated: readonly { readonly part: Part; readonly seat: Seat }[],
  importance: Importance,
): Group[] {
  const voices = voicesOf(target);
  if (!voices) return [];
  const seats = target.seats.flatMap((seat) => {
    if (seat.kind !== 'channel' || seat.hand || kindOf(seat, target) !== 'pitched') return [];
    const own = seated.flatMap((f) => (f.seat === seat && isIn(f.part) ? [f.part] : []));
    return own.length === 0 ? [] : [{ seat, own }];
  });
  const everybody = seated.map((f) => f.part).filter(isIn);
  const groups = voices.all
    ? [{ seats, parts: everybody }]
    : seats.map((s) => ({ seats: [s], parts: s.own }));
  return groups.flatMap(({ seats: list, parts }) => {
    if (list.length === 0) return [];
    const held = new Held(importance, voices.together);
    for (const part of parts) held.take(part, 0);
    return [
      {
        voices,
        seats: list.map((s) => ({ seat: s.seat, parts: s.own.length })),
        parts: [...parts],
        held,
      },
    ];
  });
}
