import * as z from 'zod';
import { OFF_MISSING, type NoteColumns } from '../../score/score';
import { changeParts, defineStep, done } from '../define-step';
import { nextOnKey } from './next-on-key';
import { notesWhere } from '../../score/columns';
import { setEnds } from '../crowd';

export const pairStuck = defineStep({
  id: 'pair-stuck',
  reach: 'notes',
  title: 'Pair stuck notes',
  summary: 'Gives notes that never end a note-off.',
  params: z.strictObject({
    until: z
      .enum(['next-same-key', 'bar-end', 'median'])
      .describe(
        'Until the next note on the key, the end of the bar, or the usual length of the part',
      ),
  }),
  describe: (p) =>
    `end stuck notes at ${{ 'next-same-key': 'the next note on their key', 'bar-end': 'the end of their bar', median: 'the usual length of their part' }[p.until]}`,
  apply(input) {
    const { params, select, maps } = input;
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const stuck = notesWhere(
        notes,
        (i) => notes.offKind[i] === OFF_MISSING && select.note(part, i),
      );
      if (stuck.length === 0) return part;
      const next = nextOnKey(notes);
      const usual = medianLength(notes);
      const ends = new Map<number, number>();
      for (const i of stuck) {
        const start = notes.start[i]!;
        const barEnd = maps.bars.barStart(maps.bars.barAt(start) + 1);
        const wanted =
          params.until === 'median' && usual > 0
            ? start + usual
            : params.until === 'next-same-key' && next[i]! < Infinity
              ? next[i]!
              : barEnd;
        ends.set(i, Math.min(wanted, next[i]!));
      }
      changed += ends.size;
      return { ...part, notes: setEnds(notes, ends) };
    });
    return done(piece, { changed, verb: 'given an end' });
  },
});

function medianLength(notes: NoteColumns): number {
  const lengths = notesWhere(notes, (i) => notes.offKind[i] !== OFF_MISSING)
    .map((i) => notes.end[i]! - notes.start[i]!)
    .sort((a, b) => a - b);
  return lengths[lengths.length >> 1] ?? 0;
}
