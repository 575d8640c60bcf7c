import * as z from 'zod';
import { changeParts, defineStep, done } from '../define-step';
import { nextOnKey } from './next-on-key';
import { plain } from '../../target/words';
import { setEnds } from '../crowd';

export const lengthen = defineStep({
  id: 'lengthen',
  reach: 'notes',
  title: 'Lengthen',
  summary: 'Gives short notes the least length, up to the next note on their key.',
  params: z.strictObject({ shortestMs: z.number().min(0).max(60_000).describe('Milliseconds') }),
  describe: (p) => `lengthen to at least ${plain(p.shortestMs)} ms`,
  apply(input) {
    const { params, select, maps } = input;
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const next = nextOnKey(notes);
      const ends = new Map<number, number>();
      for (let i = 0; i < notes.count; i++) {
        if (!select.note(part, i)) continue;
        const start = maps.clock.msAt(notes.start[i]!);
        if (maps.clock.msAt(notes.end[i]!) - start >= params.shortestMs - 1e-6) continue;
        let end = maps.clock.tickAt(start + params.shortestMs);
        while (maps.clock.msAt(end) - start < params.shortestMs - 1e-6) end++;
        end = Math.min(end, next[i]!);
        if (end > notes.end[i]!) ends.set(i, end);
      }
      changed += ends.size;
      return ends.size === 0 ? part : { ...part, notes: setEnds(notes, ends) };
    });
    return done(piece, { changed, verb: 'lengthened' });
  },
});
