import { OFF_MISSING } from '../../score/score';
import { SpanList, defineRule, mend, says } from '../define-rule';
import { count } from '../../target/words';
import { pairStuck } from '../../steps/spacing/pair-stuck';

export const stuck = defineRule({
  id: 'stuck-note',
  summary: 'Every note has an end.',
  story: {
    why: 'A recording was stopped while a key was down, or an edit removed a note-off and left its note-on.',
    mends:
      'Each gives the note an end: at the next note on its key, with its bar, or after the usual length of the part.',
  },
  block: null,
  phase: 'integrity',
  codes: {
    stuck: says<{ countText: string; one: number; name: string }>({
      title: 'Notes without a note-off',
      wrong: (f) => `${f.countText} of “${f.name}” ${f.one ? 'has' : 'have'} no note-off.`,
      then: (_, w) => `${w.Target} holds them until it is switched off.`,
    }),
  },
  check({ heard, report }) {
    for (const part of heard()) {
      const places = new SpanList();
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.offKind[i] === OFF_MISSING) places.add(part, i);
      if (places.count === 0) continue;
      report({
        code: 'stuck',
        part,
        ...places.found,
        data: {
          countText: count(places.count, 'note'),
          one: places.count === 1 ? 1 : 0,
          name: part.name,
        },
        measured: { value: places.count, unit: 'notes' },
        mends: [
          mend(
            'End them at the usual length of the part',
            pairStuck,
            { until: 'median' as const },
            [part],
          ),
          mend('End the notes with their bar', pairStuck, { until: 'bar-end' as const }, [part]),
        ],
      });
    }
  },
});
