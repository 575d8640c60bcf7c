import * as z from 'zod';
import { CHORD_MS, Cuts, Gone, applyTo, crowdsOf } from '../crowd';
import { defineStep, done } from '../define-step';
import { plain } from '../../target/words';
import type { Clock } from '../../time/tempo-map';

export const limitOpen = defineStep({
  id: 'limit-open',
  reach: 'notes',
  title: 'Limit open time',
  summary: 'Shortens notes so that a seat sounds no longer than it may in any stretch of time.',
  params: z.strictObject({
    mostOpenMs: z.number().min(1).max(600_000).describe('Milliseconds of sound'),
    inMs: z.number().min(1).max(600_000).describe('Milliseconds of any stretch'),
    evenly: z
      .boolean()
      .optional()
      .describe(
        'Each is shortened in proportion to where the next begins, so that none is too many',
      ),
  }),
  describe: (p) => `at most ${plain(p.mostOpenMs)} ms of sound in any ${plain(p.inMs)} ms`,
  apply({ piece, params, select, maps }) {
    const cuts = new Cuts();
    const gone = new Gone();
    const { clock } = maps;
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      // Stretches in which something sounds so far; they never touch.
      const open: { from: number; to: number }[] = [];
      let first = 0;
      for (let n = 0; n < crowd.count; n++) {
        const from = clock.msAt(crowd.start[n]!);
        const to = params.evenly
          ? Math.min(
              clock.msAt(crowd.end[n]!),
              fairEnd(from, nextStart(crowd.start, n, clock), params),
            )
          : clock.msAt(crowd.end[n]!);
        while (first < open.length && open[first]!.to <= from - params.inMs) first++;
        const end = longestEnd(open, first, from, to, params.mostOpenMs, params.inMs);
        // Less than this is no note any more.
        if (end - from < Math.min(CHORD_MS, to - from) - 1e-9) {
          gone.add(crowd, n);
          continue;
        }
        let tick = crowd.end[n]!;
        if (end < clock.msAt(crowd.end[n]!) - 1e-6) {
          tick = clock.tickAt(end);
          while (tick > crowd.start[n]! + 1 && clock.msAt(tick) > end + 1e-6) tick--;
          if (clock.msAt(tick) > end + 1e-6) {
            gone.add(crowd, n);
            continue;
          }
          cuts.set(crowd, n, tick);
        }
        const last = open.at(-1);
        if (last && from <= last.to) last.to = Math.max(last.to, clock.msAt(tick));
        else open.push({ from, to: clock.msAt(tick) });
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { changed: cuts.count, verb: 'shortened', dropped: gone.count },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

function nextStart(starts: ArrayLike<number>, n: number, clock: Clock): number {
  let k = n + 1;
  while (k < starts.length && starts[k] === starts[n]) k++;
  return k < starts.length ? clock.msAt(starts[k]!) : Infinity;
}

/** Its share of the time until the next; a hair less, for stretches begin anywhere. */
function fairEnd(from: number, next: number, p: { mostOpenMs: number; inMs: number }): number {
  const gap = next - from;
  if (gap >= p.inMs) return Infinity;
  return from + Math.max(CHORD_MS, gap * (p.mostOpenMs / p.inMs) * 0.97);
}

/**
 * The latest end of a note with which no stretch that ends there is too full. Inside a note the sum
 * only grows, so the stretch that ends with it is the fullest.
 */
function longestEnd(
  open: readonly { from: number; to: number }[],
  first: number,
  from: number,
  to: number,
  most: number,
  within: number,
): number {
  const sum = (end: number) => {
    const low = end - within;
    let total = 0;
    let covered = -Infinity;
    for (let k = first; k < open.length; k++) {
      const high = Math.min(open[k]!.to, end);
      total += Math.max(0, high - Math.max(open[k]!.from, low));
      covered = high;
    }
    // What the note itself adds behind what sounds already.
    total += Math.max(0, end - Math.max(from, low, covered));
    return total;
  };
  if (sum(to) <= most + 1e-6) return to;
  let low = from;
  let high = to;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (sum(middle) <= most) low = middle;
    else high = middle;
  }
  return low;
}
