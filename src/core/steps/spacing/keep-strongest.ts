import * as z from 'zod';
import { strengthAt } from '../../reading/metrical';
import { Cuts, Gone, applyTo, crowdsOf } from '../crowd';
import { defineStep, done } from '../define-step';

export const keepStrongest = defineStep({
  id: 'keep-strongest',
  reach: 'notes',
  title: 'Keep the strongest',
  summary:
    'Of too many notes the weakest go: doublings first, then the inside of chords, then what stands between the beats and is soft.',
  params: z.strictObject({ most: z.int().min(1).max(10_000_000).describe('Notes that may stay') }),
  describe: ({ most }) => `keep the ${most.toLocaleString('en-GB')} strongest notes`,
  apply({ piece, params, select, maps }) {
    const [crowd] = crowdsOf(piece, select, 'all');
    if (!crowd || crowd.count <= params.most) return done(piece, { says: 'There are no more' });
    const strength = strengthAt(maps.bars);
    const worth = new Float64Array(crowd.count);
    // What is struck at one tick, the highest first.
    for (let from = 0; from < crowd.count;) {
      const start = crowd.start[from]!;
      let to = from;
      while (to < crowd.count && crowd.start[to] === start) to++;
      const place = strength(start);
      const classes = new Set<number>();
      for (let n = from; n < to; n++) {
        const drum = crowd.parts[crowd.part[n]!]!.channel === 10;
        const outer = n === from || n === to - 1;
        const pitchClass = crowd.key[n]! % 12;
        const doubled = !drum && !outer && classes.has(pitchClass);
        if (!drum) classes.add(pitchClass);
        worth[n] =
          (outer || drum ? 1 : 0.4) -
          (doubled ? 0.6 : 0) +
          place +
          (crowd.velocity[n]! / 127) * 0.2;
      }
      from = to;
    }
    const order = Uint32Array.from({ length: crowd.count }, (_, n) => n);
    // Of equals the later goes: what is heard first is remembered.
    order.sort((a, b) => worth[a]! - worth[b]! || b - a);
    const gone = new Gone();
    for (const n of order.subarray(0, crowd.count - params.most)) gone.add(crowd, n);
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
  },
});
