import * as z from 'zod';
import type { Maps } from '../../score/inventory';
import { Cuts, Gone, applyTo, crowdsOf, endAt } from '../crowd';
import { defineStep, done } from '../define-step';
import { plain } from '../../target/words';

export const shorten = defineStep({
  id: 'shorten',
  reach: 'notes',
  title: 'Shorten',
  summary:
    'Ends notes where the next one begins, or at a longest length; what would be a click goes.',
  params: z.strictObject({
    until: z
      .enum(['next-note', 'next-same-key', 'longest'])
      .describe('Until the next note of the seat, the next on the key, or a length'),
    longestMs: z.number().min(1).max(600_000).optional().describe('Milliseconds'),
  }),
  describe: (p) =>
    p.until === 'longest'
      ? `shorten to at most ${plain(p.longestMs ?? 0)} ms`
      : `shorten up to the next ${p.until === 'next-note' ? 'note' : 'note on the same key'}`,
  apply({ piece, params, select, maps }) {
    if (params.until === 'longest' && params.longestMs === undefined)
      return { refused: 'A longest length in milliseconds is needed.' };
    const cuts = new Cuts();
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      /** What was struck last in each slot, at one tick: it cannot make room for itself. */
      const open: number[][] = [];
      for (let n = 0; n < crowd.count; n++) {
        const start = crowd.start[n]!;
        if (params.until === 'longest') {
          const end = lastTickWithin(maps, start, params.longestMs!);
          if (crowd.end[n]! > end) cuts.set(crowd, n, end);
          continue;
        }
        const slot = params.until === 'next-note' ? 0 : crowd.key[n]!;
        const before = open[slot];
        if (before && crowd.start[before[0]!] === start) {
          before.push(n);
          continue;
        }
        for (const other of before ?? [])
          if (crowd.end[other]! > start)
            if (slot === 0 && params.until === 'next-note')
              endAt(crowd, other, start, maps, cuts, gone);
            else cuts.set(crowd, other, start);
        open[slot] = [n];
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { changed: cuts.count, verb: 'shortened', dropped: gone.count },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

function lastTickWithin({ clock }: Maps, start: number, ms: number): number {
  const limit = clock.msAt(start) + ms;
  let end = Math.max(start + 1, clock.tickAt(limit));
  while (end > start + 1 && clock.msAt(end) > limit + 1e-6) end--;
  return end;
}
