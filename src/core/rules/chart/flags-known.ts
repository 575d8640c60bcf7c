import { SpanList, defineRule, mend, says } from '../define-rule';
import { flags as flagStep } from '../../steps/chart';
import { isIn } from '../../score/score';

export const flagKnown = defineRule({
  id: 'flags-known',
  summary: 'Only flags that the target knows.',
  story: {
    why: 'A chart was begun for another version of the game.',
    mends: 'The flag is taken from its notes.',
  },
  block: 'chart',
  reads: ['flags'],
  phase: 'notes',
  codes: {
    'flag-unknown': says<{ countText: string; flag: string; allowed: string }>({
      title: 'Flag that the target does not know',
      wrong: (f) => `${f.countText} the flag “${f.flag}”.`,
      then: (f, w) => `${w.Target} knows ${f.allowed} and refuses the chart.`,
    }),
  },
  check({ block, piece, report }) {
    const known = new Set(block.flags ?? []);
    for (const { flag, notes } of piece.flags ?? []) {
      if (known.has(flag)) continue;
      const places = new SpanList();
      const parts = piece.score.parts.filter(isIn);
      for (const part of parts)
        for (let i = 0; i < part.notes.count; i++)
          if (notes.has(part.notes.id[i]!)) places.add(part, i);
      if (places.count === 0) continue;
      report({
        code: 'flag-unknown',
        cause: flag,
        ...places.found,
        data: {
          countText: places.count === 1 ? 'One note carries' : `${places.count} notes carry`,
          flag,
          allowed: [...known].join(', ') || 'no flags',
        },
        measured: { value: places.count, unit: 'notes' },
        allowed: { flags: [...known] },
        mends: [mend('Take the flag away', flagStep, { flag, take: true })],
      });
    }
  },
});
