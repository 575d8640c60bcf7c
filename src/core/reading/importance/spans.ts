import { ticksPerQuarterOf, type NoteColumns, type Part, type Score } from '../../score/score';
import type { Maps } from '../../score/inventory';
import type { LinePath } from './lines';
import type { Measures } from './measures';

/** A stretch in which one part has a line; ticks are those of the score. */
export interface LineSpan {
  readonly part: Part;
  readonly fromTick: number;
  readonly toTick: number;
}

/** Of a quarter: so long a rest parts two phrases. */
const REST = 0.5;

/**
 * Stretches of one part each. A line goes over where a phrase begins or ends: with the pick-up of the
 * part that comes, else where the one that goes has ended its phrase, no more than a bar from the
 * stretch of bars in which the other has it.
 */
export function spansOf(
  { by }: LinePath,
  { windows, bars: allBars }: Measures,
  parts: readonly Part[],
  { bars }: Maps,
  score: Score,
): LineSpan[] {
  const out: { part: Part; fromTick: number; toTick: number }[] = [];
  const perWindow = Math.ceil(allBars / Math.max(1, windows));
  const rest = ticksPerQuarterOf(score.division) * REST;
  by.forEach((p, w) => {
    const fromTick = bars.barStart(w * perWindow);
    const toTick = bars.barStart((w + 1) * perWindow);
    const last = out.at(-1);
    if (p < 0) return;
    const part = parts[p]!;
    if (last && last.part === part && last.toTick === fromTick) last.toTick = toTick;
    else if (last && last.toTick === fromTick) {
      const bar = bars.barStart(w * perWindow + 1) - fromTick;
      const edge = edgeOf(last.part.notes, part.notes, fromTick, bar, rest);
      last.toTick = edge;
      out.push({ part, fromTick: edge, toTick });
    } else out.push({ part, fromTick, toTick });
  });
  return out;
}

/** Where a line goes from one part over to another, around a bar line. */
function edgeOf(goes: NoteColumns, comes: NoteColumns, at: number, bar: number, rest: number) {
  const pickUp = pickUpOf(comes, at, bar, rest);
  if (pickUp !== null && firstFrom(goes, pickUp) >= at) return pickUp;
  const end = phraseEnd(goes, at, rest);
  return end !== null && end <= at + bar && firstFrom(comes, at) >= end ? end : at;
}

const indexFrom = ({ start, count }: NoteColumns, tick: number): number => {
  let [low, high] = [0, count];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (start[mid]! < tick) low = mid + 1;
    else high = mid;
  }
  return low;
};
/** The first strike from a tick on. */
const firstFrom = (notes: NoteColumns, tick: number): number =>
  notes.start[indexFrom(notes, tick)] ?? Infinity;

/** Where the phrase that goes over a tick began, less than a bar before it; null where none does. */
function pickUpOf(notes: NoteColumns, at: number, bar: number, rest: number): number | null {
  let found: number | null = null;
  let last = at - bar;
  for (let i = indexFrom(notes, at - bar); i < notes.count && notes.start[i]! < at; i++) {
    const before = i === 0 ? -Infinity : notes.end[i - 1]!;
    if (notes.start[i]! - before >= rest) found = notes.start[i]!;
    last = notes.end[i]!;
  }
  return found !== null && firstFrom(notes, at) - last < rest ? found : null;
}

/** Where the phrase that sounds at a tick, or goes on right behind it, ends. */
function phraseEnd(notes: NoteColumns, at: number, rest: number): number | null {
  let i = indexFrom(notes, at);
  if (i === 0 || firstFrom(notes, at) - notes.end[i - 1]! >= rest) {
    const before = i === 0 ? null : notes.end[i - 1]!;
    return before !== null && before > at ? before : null;
  }
  while (i + 1 < notes.count && notes.start[i + 1]! - notes.end[i]! < rest) i++;
  return i < notes.count ? notes.end[i]! : null;
}
