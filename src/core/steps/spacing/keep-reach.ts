import * as z from 'zod';
import { Cuts, Gone, applyTo, crowdsOf, endAt } from '../crowd';
import { defineStep, done } from '../define-step';

export const keepReach = defineStep({
  id: 'keep-reach',
  reach: 'notes',
  title: 'Keep within reach',
  summary: 'Drops what a hand cannot reach of a chord, and ends what it would have to let go.',
  params: z.strictObject({
    semitones: z.int().min(1).max(127).describe('From the lowest to the highest'),
    keep: z.enum(['lowest', 'highest']).describe('Which edge of a chord stays'),
  }),
  describe: (p) => `keep within ${p.semitones} semitones, the ${p.keep} first`,
  apply({ piece, params, select, maps }) {
    const cuts = new Cuts();
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      /** By key what sounds, and until when; a key is let go as a whole. */
      const held: { notes: number[]; until: number }[] = Array.from({ length: 128 }, () => ({
        notes: [],
        until: 0,
      }));
      const letGo = (key: number, tick: number) => {
        for (const n of held[key]!.notes)
          if (crowd.end[n]! > tick) endAt(crowd, n, tick, maps, cuts, gone);
        held[key] = { notes: [], until: 0 };
      };
      for (let from = 0; from < crowd.count;) {
        const tick = crowd.start[from]!;
        let to = from + 1;
        while (to < crowd.count && crowd.start[to] === tick) to++;
        // Of one start the highest stands first.
        const edge = params.keep === 'lowest' ? crowd.key[to - 1]! : crowd.key[from]!;
        let low = 127;
        let high = 0;
        const kept: number[] = [];
        for (let n = from; n < to; n++) {
          const key = crowd.key[n]!;
          if (Math.abs(key - edge) > params.semitones) gone.add(crowd, n);
          else {
            kept.push(n);
            low = Math.min(low, key);
            high = Math.max(high, key);
          }
        }
        const sounding: number[] = [];
        for (let key = 0; key < 128; key++) {
          if (held[key]!.until <= tick) held[key] = { notes: [], until: 0 };
          else if (Math.max(high, key) - Math.min(low, key) > params.semitones) letGo(key, tick);
          else sounding.push(key);
        }
        // What still sounds must fit as a whole.
        while (sounding.length > 1) {
          const lowest = Math.min(low, sounding[0]!);
          const highest = Math.max(high, sounding.at(-1)!);
          if (highest - lowest <= params.semitones) break;
          letGo(params.keep === 'lowest' ? sounding.pop()! : sounding.shift()!, tick);
        }
        for (const n of kept) {
          const there = held[crowd.key[n]!]!;
          there.notes.push(n);
          there.until = Math.max(there.until, crowd.end[n]!);
        }
        from = to;
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { dropped: gone.count, changed: cuts.count, verb: 'shortened' },
      [{ what: 'notes', count: gone.count }],
    );
  },
});
