import { notesTogether } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import { isIn, type Part } from '../score/score';
import type { Seat, Target } from '../target/schema';

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

/**
 * Parts that may share a seat with those that are there: one after the other, as long as nearly all
 * of what then plays there is heard. Drums and hands share with nobody.
 * @param over parts without a seat, the first to be seated first
 */
export function sharing(
  target: Target,
  seated: readonly { readonly part: Part; readonly seat: Seat }[],
  over: readonly Part[],
): { readonly part: Part; readonly seat: Seat }[] {
  const voices = voicesOf(target);
  if (!voices) return [];
  const seats = target.seats.filter((s) => s.kind === 'channel' && !s.hand && s.channel !== 10);
  const at = new Map(
    seats.map((s) => [s, seated.flatMap((f) => (f.seat === s ? [f.part] : []))] as const),
  );
  const out: { part: Part; seat: Seat }[] = [];
  const all = seated.map((f) => f.part).filter(isIn);
  for (const part of over) {
    if (part.channel === 10 || part.notes.count === 0) continue;
    let best: { seat: Seat; share: number } | null = null;
    for (const seat of seats) {
      const there = at.get(seat)!;
      if (there.length === 0) continue;
      const share = shareTogether([...(voices.all ? all : there), part], voices);
      // Of seats that hear as much the one with fewer parts.
      if (!best || share > best.share + 1e-9) best = { seat, share };
    }
    if (!best || best.share < HEARD) continue;
    at.get(best.seat)!.push(part);
    all.push(part);
    out.push({ part, seat: best.seat });
  }
  return out;
}
