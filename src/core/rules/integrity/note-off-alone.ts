import { count } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { strip } from '../../steps/strip';

export const strayOff = defineRule({
  id: 'note-off-alone',
  summary: 'Every note-off ends a note.',
  story: {
    why: 'A stretch was cut out of a longer song: the note began before the cut and ends after it.',
    mends: 'They are taken out; nothing that sounds is touched.',
  },
  block: null,
  phase: 'integrity',
  codes: {
    'stray-off': says<{ countText: string; one: number; name: string }>({
      title: 'Note-offs without a note',
      wrong: (f) => `${f.countText} of “${f.name}” ${f.one ? 'ends' : 'end'} no note.`,
      then: (_, w) =>
        `It does no harm as a rule; ${w.target} may cut a note that another part began.`,
    }),
  },
  check({ heard, report }) {
    for (const part of heard()) {
      const ticks: number[] = [];
      for (let i = 0; i < part.events.count; i++)
        if (part.events.kind[i]! < 0xa0) ticks.push(part.events.tick[i]!);
      if (ticks.length === 0) continue;
      report({
        code: 'stray-off',
        severity: 'caution',
        part,
        spans: [...new Set(ticks)].map(spanAt),
        data: {
          countText: count(ticks.length, 'note-off'),
          one: ticks.length === 1 ? 1 : 0,
          name: part.name,
        },
        measured: { value: ticks.length, unit: 'note-offs' },
        mends: [mend('Remove the note-offs', strip, { kinds: ['stray note-offs'] }, [part])],
      });
    }
  },
});
