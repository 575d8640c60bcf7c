import * as z from 'zod';
import { Cuts, Gone, applyTo, crowdsOf, weightIn } from '../crowd';
import { defineStep, done } from '../define-step';

export const keepStrongest = defineStep({
  id: 'keep-strongest',
  reach: 'notes',
  title: 'Keep the strongest',
  summary:
    'Of too many notes those go that are missed least: doublings first, then the inside of chords, then what stands between the beats; the tune last.',
  params: z.strictObject({ most: z.int().min(1).max(10_000_000).describe('Notes that may stay') }),
  describe: ({ most }) => `keep the ${most.toLocaleString('en-GB')} strongest notes`,
  apply({ piece, params, select, came }) {
    const [crowd] = crowdsOf(piece, select, 'all');
    if (!crowd || crowd.count <= params.most) return done(piece, { says: 'There are no more' });
    const weight = weightIn(came);
    const worth = Float64Array.from({ length: crowd.count }, (_, n) => weight(crowd, n));
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
