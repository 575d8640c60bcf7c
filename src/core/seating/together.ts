import { notesTogether } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import { isDrumPart } from '../reading/importance/drums';
import { areCues, type Importance } from '../reading/importance/importance';
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

/** So much of what plays together must be heard, else a part is rather left out. */
const HEARD = 0.97;
/** Who plays so much of what another plays is a double of it. */
const DOUBLE = 0.9;
/** Or so much of what a part adds to the music, where what is missed least goes. */
const ADDS = 0.5;

/** What of the music some parts keep together: of each moment the notes that are missed most. */
function keptOf(parts: readonly Part[], together: number, { weight, moment }: Importance): number {
  const moments = new Map<number, number[]>();
  for (const { notes } of parts)
    for (let i = 0; i < notes.count; i++) {
      const id = notes.origin[i]!;
      const at = moment[id] ?? 0;
      const there = moments.get(at);
      if (there) there.push(weight[id] ?? 0);
      else moments.set(at, [weight[id] ?? 0]);
    }
  let kept = 0;
  for (const all of moments.values()) {
    if (all.length > together) all.sort((a, b) => b - a).length = together;
    for (const w of all) kept += w;
  }
  return kept;
}

/**
 * Parts that may share a seat with those that are there: one after the other, what is missed most
 * first, as long as nearly all of what then plays there is heard, or most of what it adds to the
 * music. Seats that say so take several. Drums and hands share with nobody else, doubles with none.
 * @param over parts without a seat
 */
export function sharing(
  target: Target,
  seated: readonly { readonly part: Part; readonly seat: Seat }[],
  over: readonly Part[],
  importance: Importance,
): { readonly part: Part; readonly seat: Seat }[] {
  const voices = voicesOf(target);
  const out: { readonly part: Part; readonly seat: Seat }[] = [];
  const open = target.seats.filter((s) => s.several);
  const seats = voices
    ? target.seats.filter((s) => s.kind === 'channel' && !s.hand && kindOf(s, target) === 'pitched')
    : [];
  const at = new Map(
    seats.map((s) => [s, seated.flatMap((f) => (f.seat === s ? [f.part] : []))] as const),
  );
  const all = seated.map((f) => f.part).filter(isIn);
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
    if (!voices || drums) continue;
    let best: { seat: Seat; share: number } | null = null;
    for (const seat of seats) {
      const there = at.get(seat)!;
      if (there.length === 0) continue;
      const share = shareTogether([...(voices.all ? all : there), part], voices);
      // Of seats that hear as much the one with fewer parts.
      if (!best || share > best.share + 1e-9) best = { seat, share };
    }
    if (!best) continue;
    const beside = voices.all ? all : at.get(best.seat)!;
    const alike = beside.some((p) => importance.alike(part, p) >= DOUBLE);
    const adds = () =>
      keptOf([...beside, part], voices.together, importance) -
      keptOf(beside, voices.together, importance);
    if (best.share < HEARD && (alike || adds() < ADDS * (importance.of(part)?.weight ?? Infinity)))
      continue;
    at.get(best.seat)!.push(part);
    all.push(part);
    out.push({ part, seat: best.seat });
  }
  return out;
}
