import { barsUntil } from './whole-bars';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { loop } from '../../steps/loop';
import { plain } from '../../target/words';
import { setLength } from '../../steps/length';

export const loopMarker = defineRule({
  id: 'loop-marker',
  summary: 'One marker where the loop begins, a whole number of bars before the end.',
  story: {
    why: 'The marker was named by another habit, or set by ear beside the bar line.',
    mends: 'One marker is set on a bar line; others of the name go.',
  },
  block: 'end',
  reads: ['loopMarker'],
  phase: 'end',
  codes: {
    'loop-missing': says<{ label: string }>({
      title: 'Loop marker missing',
      wrong: (f) => `There is no marker “${f.label}”.`,
      then: (_, w) => `${w.Target} does not know where to go on and stops at the end.`,
    }),
    'loop-twice': says<{ label: string; times: number }>({
      title: 'Several loop markers',
      wrong: (f) => `The marker “${f.label}” stands ${f.times} times.`,
      then: (_, w) => `${w.Target} takes one of them, and not always the same.`,
    }),
    'loop-not-bars': says<{ label: string; bars: string }>({
      title: 'Loop length not in whole bars',
      wrong: (f) => `From “${f.label}” to the end it is ${f.bars} bars.`,
      then: (_, w) => `${w.Target} goes round there, and the beat stumbles.`,
    }),
  },
  check({ block, piece, maps, report }) {
    const label = block.loopMarker;
    if (label === undefined) return;
    const found = piece.score.conductor.markers.filter((m) => m.text === label);
    const near = piece.score.conductor.markers.find(
      (m) => m.text !== label && m.text.trim().toLowerCase() === label.toLowerCase(),
    );
    const set = (bar: number) => mend(`Loop from bar ${bar}`, loop, { label, bar });
    const end = deliveredEnd(piece);
    if (found.length === 0) {
      const bar = near ? maps.bars.barAt(near.tick) + 1 : 1;
      report({
        code: 'loop-missing',
        data: { label },
        allowed: { loopMarker: label },
        ...(end > 0 ? { mends: [set(bar)] } : { noMend: 'The piece has no length.' }),
      });
      return;
    }
    if (found.length > 1) {
      const bars = [...new Set(found.map((m) => maps.bars.barAt(m.tick) + 1))];
      report({
        code: 'loop-twice',
        spans: found.map((m) => spanAt(m.tick)),
        data: { label, times: found.length },
        measured: { value: found.length, unit: 'markers' },
        allowed: { loopMarker: label },
        mends: bars.slice(0, 3).map(set),
      });
      return;
    }
    if (!block.loopWholeBars) return;
    const tick = found[0]!.tick;
    const from = barsUntil(maps, tick);
    const to = barsUntil(maps, end);
    if (from.over === 0 && to.over === 0) return;
    report({
      code: 'loop-not-bars',
      spans: [spanAt(tick)],
      data: { label, bars: plain(to.whole + to.over - from.whole - from.over) },
      measured: {
        value: Math.round((to.whole + to.over - from.whole - from.over) * 1000) / 1000,
        unit: 'bars',
      },
      allowed: { loopWholeBars: true },
      mends: [
        {
          title: `Loop from bar ${from.whole + 1}, and end on a bar line`,
          steps: [
            ...(from.over > 0 ? set(from.whole + 1).steps : []),
            ...(to.over > 0 ? mend('', setLength, { bars: to.whole + 1 }).steps : []),
          ],
        },
      ],
    });
  },
});
