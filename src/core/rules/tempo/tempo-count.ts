import { defineRule, mend, says, spanAt } from '../define-rule';
import { holdClockAt, holdingBars, tempoToHold } from './holding';
import { thinTempo } from '../../steps/timing/thin-tempo';

export const tempoCount = defineRule({
  id: 'tempo-count',
  summary: 'No more tempo events than the target holds.',
  story: {
    why: 'A tempo curve was drawn, and is written as hundreds of small steps.',
    mends: 'The likest neighbours are merged so that the clock agrees again behind them.',
  },
  block: 'tempo',
  reads: ['mostEvents'],
  phase: 'tempo and meter',
  codes: {
    'tempo-count': says<{ count: number; most: number }>({
      title: 'Too many tempo events',
      named: (f) => `${f.count} tempo events, keeps ${f.most}`,
      wrong: (f) => `The file holds ${f.count} tempo events.`,
      then: (f, w) => `${w.Target} keeps ${f.most} and plays on at the last of them.`,
    }),
  },
  check({ block, piece, target, report }) {
    if (block.mostEvents === undefined) return;
    const { tempos } = piece.score.conductor;
    const most = block.mostEvents;
    if (tempos.length <= most) return;
    const held = tempoToHold(piece.score, block);
    report({
      code: 'tempo-count',
      spans: tempos.slice(most).map((t) => spanAt(t.tick)),
      data: { count: tempos.length, most },
      measured: { value: tempos.length, unit: 'tempo events' },
      allowed: { mostEvents: most },
      mends: [
        mend(`Thin them to ${most}`, thinTempo, { most }),
        holdClockAt(piece.score, target, held),
        ...holdingBars(piece.score, block, held),
      ],
    });
  },
});
