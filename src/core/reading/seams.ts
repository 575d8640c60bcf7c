import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';

import { count } from '../target/words';
import { barPrints, barStarts } from './bar-prints';
import { deliveredEnd } from './ends';
import { seamOf } from './seam';

/** Where a loop may begin and end, and what speaks for it and against it. */
export interface SeamCandidate {
  /** Bars from 1: the first that is played, and the last. */
  readonly fromBar: number;
  readonly toBar: number;
  readonly fromTick: number;
  readonly toTick: number;
  readonly ms: number;
  /** Less is better. */
  readonly cost: number;
  readonly hanging: number;
  readonly jumps: number;
  readonly says: readonly string[];
}

export interface SeamOptions {
  /** Bars at which it may begin, from 1; the first alone where nothing is said. */
  readonly fromBars?: readonly number[];
  readonly most?: number;
}

/** Bars of a loop that is worth going round. */
const FEWEST_BARS = 2;
/** Bar pairs beyond which only the likeliest beginnings are looked at. */
const MOST_PAIRS = 200_000;

/**
 * Pairs of bar lines between which a piece may go round, the best first. What counts: whether what
 * follows the end is what follows the beginning (then the ear does not notice), notes that hang over
 * the end, levels, programs and bends that differ, and whole phrases of four bars. Linear in notes
 * for each beginning.
 */
export function seamCandidates(piece: Piece, options: SeamOptions = {}): SeamCandidate[] {
  const { score } = piece;
  const { bars, clock } = mapsOf(score);
  const end = deliveredEnd(piece);
  const total = bars.barCount(end);
  const starts = barStarts({ bars }, end);
  const parts = score.parts.filter((p) => isIn(p) && p.notes.count > 0);
  if (parts.length === 0 || total < FEWEST_BARS) return [];
  const prints = barPrints(parts, starts);
  const hanging = hangingAt(parts, starts);
  const beginnings = (options.fromBars ?? [1])
    .map((b) => b - 1)
    .filter((b) => b >= 0 && b < total)
    .slice(0, Math.max(1, Math.floor(MOST_PAIRS / total)));
  const out: SeamCandidate[] = [];
  for (const from of beginnings)
    for (let to = from + FEWEST_BARS; to <= total; to++) {
      const length = to - from;
      const jumps = parts.reduce(
        (sum, p) => sum + seamOf(p.events, starts[from]!, starts[to]!).length,
        0,
      );
      const returns = to < total && prints[to] === prints[from] && prints[from] !== '';
      const ends = to === total;
      const silentEnd = prints.slice(Math.max(from, to - 1), to).every((p) => p === '');
      const phrase = length % 8 === 0 ? 0 : length % 4 === 0 ? 0.5 : length % 2 === 0 ? 1.2 : 2;
      const cost =
        (returns ? 0 : ends ? 1.5 : 4) +
        hanging[to]! * 0.8 +
        jumps * 1.2 +
        phrase +
        (silentEnd ? 2.5 : 0) +
        // Of two that fit alike the longer one is heard less often.
        4 / length;
      out.push({
        fromBar: from + 1,
        toBar: to,
        fromTick: starts[from]!,
        toTick: starts[to]!,
        ms: clock.msAt(starts[to]!) - clock.msAt(starts[from]!),
        cost,
        hanging: hanging[to]!,
        jumps,
        says: [
          returns ? `bar ${to + 1} is as bar ${from + 1}` : ends ? 'the piece ends there' : '',
          hanging[to]! > 0
            ? `${count(hanging[to]!, 'note')} ${hanging[to] === 1 ? 'hangs' : 'hang'} over`
            : 'nothing hangs over',
          jumps > 0 ? `${count(jumps, 'level')} or sounds jump` : 'nothing jumps',
          length % 4 === 0 ? 'whole phrases of four bars' : '',
          silentEnd ? 'its last bar is silent' : '',
        ].filter(Boolean),
      });
    }
  return out
    .sort((a, b) => a.cost - b.cost || b.toBar - a.toBar || a.fromBar - b.fromBar)
    .slice(0, options.most ?? 12);
}

/** How many notes sound across each bar line. */
function hangingAt(parts: readonly Part[], starts: readonly number[]): number[] {
  const change = new Array<number>(starts.length + 1).fill(0);
  for (const { notes } of parts)
    for (let i = 0; i < notes.count; i++) {
      // Lines behind its start and before its end.
      const first = firstBehind(starts, notes.start[i]!);
      const last = firstBehind(starts, notes.end[i]! - 1);
      if (last > first) {
        change[first]!++;
        change[last]!--;
      }
    }
  let now = 0;
  return starts.map((_, i) => (now += change[i]!));
}

/** Index of the first line that lies behind a tick. */
function firstBehind(starts: readonly number[], tick: number): number {
  let low = 0;
  let high = starts.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (starts[mid]! <= tick) low = mid + 1;
    else high = mid;
  }
  return low;
}
