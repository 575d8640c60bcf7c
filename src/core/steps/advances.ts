import * as z from 'zod';
import { sortNotes } from '../score/columns';
import { isIn } from '../score/score';
import { plain } from '../target/words';
import { changeParts, defineStep, done } from './define-step';

/** The nth advance turns to the nth caption. */
export const turnInTime = defineStep({
  id: 'turn-in-time',
  reach: 'notes',
  title: 'Turn captions in time',
  summary:
    'Moves the advances that come too late or too soon for their caption, each by the least.',
  params: z.strictObject({
    noteNumber: z.int().min(0).max(127).describe('The note that turns to the next caption'),
    leadLeastMs: z.number().min(0).max(60_000).describe('Milliseconds before the word, at least'),
    leadMostMs: z
      .number()
      .min(0)
      .max(60_000)
      .optional()
      .describe('Milliseconds before the word, at most'),
  }),
  describe: (p) =>
    `turn captions ${plain(p.leadLeastMs)}${p.leadMostMs === undefined ? ' ms or more' : ` to ${plain(p.leadMostMs)} ms`} before their word`,
  apply(input) {
    const { piece, params, maps, select } = input;
    const { clock } = maps;
    const captions = piece.captions ?? [];
    if (captions.length === 0) return { refused: 'There are no captions yet.' };
    const advances: { id: number; tick: number }[] = [];
    for (const { leftOut, notes } of piece.score.parts)
      for (let i = 0; i < notes.count && !leftOut; i++)
        if (notes.noteNumber[i] === params.noteNumber)
          advances.push({ id: notes.id[i]!, tick: notes.start[i]! });
    advances.sort((a, b) => a.tick - b.tick);
    const most = params.leadMostMs ?? Infinity;
    const to = new Map<number, number>();
    for (const [k, { id, tick }] of advances.entries()) {
      const caption = captions[k];
      if (!caption) break;
      const word = clock.msAt(caption.tick);
      const lead = word - clock.msAt(tick);
      if (lead >= params.leadLeastMs - 1e-6 && lead <= most + 1e-6) continue;
      const wanted = lead < params.leadLeastMs ? word - params.leadLeastMs : word - most;
      let at = clock.tickAt(Math.max(0, wanted));
      // A tick before or behind, so that the limit holds.
      while (at > 0 && word - clock.msAt(at) < params.leadLeastMs - 1e-6) at--;
      while (word - clock.msAt(at) > most + 1e-6) at++;
      to.set(id, at);
    }
    let changed = 0;
    const next = changeParts({ piece, select }, (part) => {
      if (!isIn(part)) return part;
      const { notes } = part;
      const start = Int32Array.from(notes.start);
      const end = Int32Array.from(notes.end);
      const onOrder = Uint32Array.from(notes.onOrder);
      const offOrder = Uint32Array.from(notes.offOrder);
      let moved = 0;
      for (let i = 0; i < notes.count; i++) {
        const at = to.get(notes.id[i]!);
        if (at === undefined || !select.note(part, i)) continue;
        end[i] = end[i]! + at - start[i]!;
        start[i] = at;
        onOrder[i] = 0;
        offOrder[i] = 0;
        moved++;
      }
      changed += moved;
      if (moved === 0) return part;
      return { ...part, notes: sortNotes({ ...notes, start, end, onOrder, offOrder }) };
    });
    return done(next, { changed, verb: 'turned in time' });
  },
});
