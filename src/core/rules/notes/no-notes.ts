import { leaveNotesOut } from '../../steps/leave-notes-out';
import { count } from '../../target/words';
import { defineRule, mend, SpanList, says } from '../define-rule';

export const takesNoNotes = defineRule({
  id: 'takes-no-notes',
  summary: 'No note is sent to what takes none.',
  story: {
    why: 'The part that the pedal is switched from was played on the same channel.',
    mends: 'Its notes are left out; programs and controllers stay.',
  },
  block: 'notes',
  reads: ['none'],
  phase: 'notes',
  codes: {
    'notes-taken': says<{ countText: string; name: string; one: number }>({
      title: 'Notes on a target that takes none',
      wrong: (f) => `“${f.name}” has ${f.countText}.`,
      then: (_, w) => `${w.Target} takes no notes, and may stop at one.`,
    }),
  },
  check({ heard, block, report }) {
    if (!block.none) return;
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const places = new SpanList();
      for (let i = 0; i < part.notes.count; i++) places.add(part, i);
      report({
        code: 'notes-taken',
        part,
        ...places.found,
        data: {
          countText: count(part.notes.count, 'note'),
          name: part.name,
          one: part.notes.count === 1 ? 1 : 0,
        },
        measured: { value: part.notes.count, unit: 'notes' },
        allowed: { none: true },
        mends: [mend('Leave the notes out', leaveNotesOut, {}, [part])],
      });
    }
  },
});
