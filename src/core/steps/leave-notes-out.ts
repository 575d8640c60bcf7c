import * as z from 'zod';
import { notesWhere, pickNotes } from '../score/columns';
import { changeParts, defineStep, done } from './define-step';

export const leaveNotesOut = defineStep({
  id: 'leave-notes-out',
  reach: 'notes',
  title: 'Leave notes out',
  summary: 'Takes the notes of parts out, and leaves all else: for what listens to no notes.',
  params: z.strictObject({}),
  describe: () => 'notes out, all else stays',
  apply(input) {
    let dropped = 0;
    const piece = changeParts(input, (part) => {
      const kept = notesWhere(part.notes, (i) => !input.select.note(part, i));
      if (kept.length === part.notes.count) return part;
      dropped += part.notes.count - kept.length;
      return { ...part, notes: pickNotes(part.notes, kept) };
    });
    return done(piece, { dropped }, [{ what: 'notes', count: dropped }]);
  },
});
