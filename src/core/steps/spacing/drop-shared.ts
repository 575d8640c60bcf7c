import * as z from 'zod';
import { Cuts, Gone, applyTo, crowdsOf } from '../crowd';
import { defineStep, done } from '../define-step';

export const dropShared = defineStep({
  id: 'drop-shared',
  reach: 'notes',
  title: 'Drop shared keys',
  summary: 'Where two seats would hold one key at once, keeps the note that was there first.',
  params: z.strictObject({}),
  describe: () => 'drop notes on a key that another seat holds',
  apply({ piece, select }) {
    const gone = new Gone();
    const crowds = crowdsOf(piece, select, 'seat');
    const all = crowds.flatMap((crowd, c) =>
      Array.from({ length: crowd.count }, (_, n) => ({ c, n, start: crowd.start[n]! })),
    );
    all.sort((a, b) => a.start - b.start || a.c - b.c);
    // By key until when each seat holds it.
    const held = new Map<number, Map<number, number>>();
    for (const { c, n, start } of all) {
      const crowd = crowds[c]!;
      const key = crowd.key[n]!;
      const there = held.get(key) ?? new Map<number, number>();
      if ([...there].some(([other, end]) => other !== c && end > start)) gone.add(crowd, n);
      else there.set(c, Math.max(there.get(c) ?? 0, crowd.end[n]!));
      held.set(key, there);
    }
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
  },
});
