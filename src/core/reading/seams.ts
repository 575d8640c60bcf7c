import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';

import { CURVE_MS } from '../sound/peaks';
import { count } from '../target/words';
import { barPrints, barStarts, MOST_BARS_LISTED } from './bar-prints';
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
  /** The sound that plays beside it, as `loudnessOf` gives it, from the start of the clock. */
  readonly loudness?: Float32Array;
}

/** How a sound goes over a seam. */
interface SoundSeam {
  readonly cost: number;
  readonly says: readonly string[];
}

/** Half a second before and two behind are what the ear holds beside each other. */
const BEFORE_MS = 500;
const BEHIND_MS = 2000;
/** Below it a sound is as good as silent at the seam. */
const SILENT = 0.006;
/** Decibels that are heard as a jump. */
const JUMP_DB = 6;

/** How alike two stretches of a curve rise and fall: 1 where they do the same. */
function likeness(curve: Float32Array, a: number, b: number, length: number): number {
  let [sumA, sumB, n] = [0, 0, 0];
  const inside = (i: number) => i >= 0 && i < curve.length;
  for (let i = 0; i < length; i++) {
    if (!inside(a + i) || !inside(b + i)) continue;
    sumA += curve[a + i]!;
    sumB += curve[b + i]!;
    n++;
  }
  if (n < length / 4) return NaN;
  const [meanA, meanB] = [sumA / n, sumB / n];
  let [both, ownA, ownB] = [0, 0, 0];
  for (let i = 0; i < length; i++) {
    if (!inside(a + i) || !inside(b + i)) continue;
    const [x, y] = [curve[a + i]! - meanA, curve[b + i]! - meanB];
    both += x * y;
    ownA += x * x;
    ownB += y * y;
  }
  return ownA === 0 || ownB === 0 ? NaN : both / Math.sqrt(ownA * ownB);
}

/**
 * What is heard where the sound goes from one place to another: whether it would have gone on alike,
 * and whether what led there is as loud as what leads to where it goes on.
 */
function soundSeam(curve: Float32Array, fromMs: number, toMs: number): SoundSeam {
  const at = (ms: number) => Math.round(ms / CURVE_MS);
  const [from, to] = [at(fromMs), at(toMs)];
  const steps = (ms: number) => ms / CURVE_MS;
  const loudest = (end: number) => {
    let most = 0;
    for (let i = Math.max(0, end - 3); i < Math.min(curve.length, end); i++)
      most = Math.max(most, curve[i]!);
    return most;
  };
  const says: string[] = [];
  let cost = 0;
  const [led, leads] = [loudest(to), loudest(from)];
  const behind = likeness(curve, from, to, steps(BEHIND_MS));
  const before = likeness(curve, from - steps(BEFORE_MS), to - steps(BEFORE_MS), steps(BEFORE_MS));
  const alike = Number.isNaN(behind) ? before : behind;
  if (!Number.isNaN(alike)) {
    cost += (1 - alike) * 1.5;
    if (alike > 0.8) says.push(`the sound goes on alike (${Math.round(alike * 100)} %)`);
    else if (alike < 0.3) says.push('the sound goes on differently there');
  }
  if (led < SILENT) says.push('the sound is silent there');
  else if (from > 0) {
    const db = 20 * Math.log10(led / Math.max(SILENT, leads));
    cost += Math.min(2, Math.abs(db) / 9);
    if (Math.abs(db) > JUMP_DB) says.push(`the sound jumps by ${Math.round(Math.abs(db))} dB`);
  } else {
    // Nothing leads to the very start: what still rings is cut.
    cost += Math.min(1.5, led * 5);
    if (led > SILENT * 8) says.push('the sound is cut while it rings');
  }
  return { cost, says };
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
  if (total > MOST_BARS_LISTED) return [];
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
      const heard = options.loudness
        ? soundSeam(options.loudness, clock.msAt(starts[from]!), clock.msAt(starts[to]!))
        : null;
      const cost =
        (heard?.cost ?? 0) +
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
          ...(heard?.says ?? []),
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
