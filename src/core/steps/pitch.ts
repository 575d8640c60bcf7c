import * as z from 'zod';
import { allowedKeys } from '../target/limits';
import { noteName } from '../target/words';
import { changeParts, defineStep, done } from './define-step';

const noteNumber = z.int().min(0).max(127);

export const transpose = defineStep({
  id: 'transpose',
  reach: 'notes',
  title: 'Transpose',
  summary: 'Moves notes up or down by semitones.',
  params: z.strictObject({ semitones: z.int().min(-127).max(127).describe('Semitones') }),
  describe: ({ semitones: n }) => `${n < 0 ? 'down' : 'up'} ${Math.abs(n)} semitones`,
  apply(input) {
    const by = input.params.semitones;
    let changed = 0;
    let outside = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const moved = Uint8Array.from(notes.noteNumber);
      let touched = 0;
      for (let i = 0; i < notes.count; i++) {
        if (!input.select.note(part, i)) continue;
        const key = moved[i]! + by;
        if (key < 0 || key > 127) outside++;
        else moved[i] = key;
        touched++;
      }
      changed += touched;
      return touched === 0 || by === 0 ? part : { ...part, notes: { ...notes, noteNumber: moved } };
    });
    if (outside > 0) return { refused: `${outside} notes would leave the note numbers 0 to 127.` };
    return done(piece, { changed, verb: 'transposed' });
  },
});

/** The nearest allowed key whole octaves away, upwards first; −1 where there is none. */
export function foldKey(key: number, allowed: readonly boolean[]): number {
  for (let by = 0; by < 128; by += 12) {
    if (allowed[key + by]) return key + by;
    if (allowed[key - by]) return key - by;
  }
  return -1;
}

export const foldOctaves = defineStep({
  id: 'fold-octaves',
  reach: 'notes',
  title: 'Fold octaves',
  summary: 'Moves notes that the target cannot take by whole octaves, each to the nearest it can.',
  params: z.strictObject({
    lowest: noteNumber.optional(),
    highest: noteNumber.optional(),
    without: z.array(noteNumber).optional(),
    only: z.array(noteNumber).optional(),
  }),
  describe: (p) =>
    `fold octaves into ${noteName(p.lowest ?? 0)}–${noteName(p.highest ?? 127)}` +
    (p.without?.length ? ` without ${p.without.map(noteName).join(', ')}` : ''),
  apply(input) {
    const allowed = allowedKeys(input.params);
    let changed = 0;
    let left = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const folded = Uint8Array.from(notes.noteNumber);
      let touched = 0;
      for (let i = 0; i < notes.count; i++) {
        const key = folded[i]!;
        if (allowed[key] || !input.select.note(part, i)) continue;
        const to = foldKey(key, allowed);
        if (to < 0) left++;
        else {
          folded[i] = to;
          touched++;
        }
      }
      changed += touched;
      return touched === 0 ? part : { ...part, notes: { ...notes, noteNumber: folded } };
    });
    if (changed === 0 && left > 0)
      return { refused: `None of the ${left} notes has an octave that is allowed.` };
    return done(piece, { changed, verb: 'moved by octaves' });
  },
});
