import { barsUntil, lengthAllowed } from './whole-bars';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { deliveredEnd, lastNoteEnd } from '../../reading/ends';
import { setLength } from '../../steps/length';

export const filled = defineRule({
  id: 'filled-to-the-end',
  summary: 'Something sounds in the last bar.',
  story: {
    why: 'The export region was drawn longer than the music.',
    mends: 'The empty bars are taken away where the shorter length is allowed.',
  },
  block: 'end',
  reads: ['filled'],
  phase: 'end',
  codes: {
    'empty-end': says<{ barsText: string }>({
      title: 'Empty bars at the end',
      wrong: (f) => `${f.barsText} at the end without a note.`,
      then: (_, w) => `${w.Target} plays them too: a hole in every round.`,
    }),
  },
  check({ block, piece, maps, report }) {
    if (!block.filled) return;
    const end = deliveredEnd(piece);
    const last = lastNoteEnd(piece.score);
    if (last === 0) return;
    const { whole, over } = barsUntil(maps, end);
    const needed = barsUntil(maps, last);
    const bars = needed.whole + (needed.over > 0 ? 1 : 0);
    const empty = whole + (over > 0 ? 1 : 0) - bars;
    if (empty < 1) return;
    report({
      code: 'empty-end',
      spans: [{ fromTick: maps.bars.barStart(bars), toTick: end }],
      data: { barsText: empty === 1 ? 'One bar is' : `${empty} bars are` },
      measured: { value: empty, unit: 'empty bars' },
      allowed: { filled: true },
      ...(lengthAllowed(block, bars)
        ? { mends: [mend(`Make it ${count(bars, 'bar')} long`, setLength, { bars })] }
        : {
            noMend:
              'Without them it would have a length that is not taken: fill them, or repeat bars.',
          }),
    });
  },
});
