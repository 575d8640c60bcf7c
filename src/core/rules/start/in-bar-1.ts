import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { firstTickOf } from '../../score/score';
import { trimStart } from '../../steps/timing/trim-start';

export const inBar1 = defineRule({
  id: 'in-bar-1',
  summary: 'The music begins in bar 1, without an empty bar before it.',
  story: {
    why: 'A loop was exported with the count-in before it.',
    mends: 'The empty bars are taken away.',
  },
  block: 'start',
  reads: ['inBar1'],
  phase: 'start',
  codes: {
    'empty-start': says<{ barsText: string }>({
      title: 'First note after bar 1',
      wrong: (f) => `${f.barsText} before the first note.`,
      then: (_, w) => `${w.Target} begins at bar 1 and loops the silence with it.`,
    }),
  },
  check({ block, piece, maps, report }) {
    if (!block.inBar1) return;
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const bars = maps.bars.barAt(first);
    if (bars === 0) return;
    report({
      code: 'empty-start',
      spans: [{ fromTick: 0, toTick: first }],
      data: { barsText: bars === 1 ? 'One bar is empty' : `${bars} bars are empty` },
      measured: { value: bars, unit: 'bars' },
      allowed: { inBar1: true },
      mends: [mend(`Take away ${count(bars, 'bar')} of rest`, trimStart, { bars })],
    });
  },
});
