import { OFF_MISSING } from '../../score/score';
import { SpanList, defineRule, mend, says } from '../define-rule';
import { count } from '../../target/words';
import { leaveOut } from '../../steps/routing';

export const zeroLength = defineRule({
  id: 'zero-length',
  summary: 'Every note has a length.',
  story: {
    why: 'A grid was coarser than the notes, or a drum editor writes hits without a length.',
    mends: 'They are left out. To keep them, lengthen them by hand with the step “Lengthen”.',
  },
  block: null,
  phase: 'integrity',
  codes: {
    'zero-length': says<{ countText: string; one: number; name: string }>({
      title: 'Notes of length 0',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'ends' : 'end'} at the tick of ${f.one ? 'its' : 'their'} start.`,
      then: (_, w) => `${w.Target} may play nothing, or let them hang.`,
    }),
  },
  check({ heard, report }) {
    for (const part of heard()) {
      const places = new SpanList();
      const { start, end, offKind } = part.notes;
      for (let i = 0; i < part.notes.count; i++)
        if (end[i] === start[i] && offKind[i] !== OFF_MISSING) places.add(part, i);
      if (places.count === 0) continue;
      report({
        code: 'zero-length',
        severity: 'caution',
        part,
        ...places.found,
        data: {
          countText: count(places.count, 'note'),
          one: places.count === 1 ? 1 : 0,
          name: part.name,
        },
        measured: { value: places.count, unit: 'notes' },
        mends: [mend('Leave these notes out', leaveOut, { empty: true }, [part])],
      });
    }
  },
});
