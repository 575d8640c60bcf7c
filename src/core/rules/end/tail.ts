import { deliveredEnd } from '../../reading/ends';
import { setLength } from '../../steps/length';
import { plain } from '../../target/words';
import { defineRule, HAIR, mend, says, spanAt } from '../define-rule';

export const tail = defineRule({
  id: 'tail',
  summary: 'The piece goes on until the last sound has died away.',
  story: {
    why: 'The session ends with its last event.',
    mends: 'The end is moved behind the tail.',
  },
  block: 'end',
  reads: ['tailMs'],
  phase: 'end',
  codes: {
    'tail-cut': says<{ leftText: string; allowedText: string }>({
      title: 'Last note is cut off',
      wrong: (f) =>
        `The piece ends ${f.leftText} ms behind its last event; ${f.allowedText} ms are needed.`,
      then: (_, w) => `${w.Target} stops while its sound still hangs over.`,
    }),
  },
  check({ heard, piece, block, maps, report }) {
    const { tailMs } = block;
    if (tailMs === undefined) return;
    let last = 0;
    let isAny = false;
    for (const { events, notes } of heard()) {
      isAny ||= events.count + notes.count > 0;
      if (events.count > 0) last = Math.max(last, events.tick[events.count - 1]!);
      for (let i = 0; i < notes.count; i++) last = Math.max(last, notes.end[i]!);
    }
    // Nothing that is delivered has a tail.
    if (!isAny) return;
    const end = deliveredEnd(piece);
    const left = maps.clock.msAt(end) - maps.clock.msAt(last);
    if (left >= tailMs - HAIR) return;
    report({
      code: 'tail-cut',
      spans: [spanAt(last)],
      data: { leftText: plain(Math.round(left)), allowedText: plain(tailMs) },
      measured: { value: left, unit: 'ms' },
      allowed: { tailMs },
      mends: [mend('End the piece after the last note rings out', setLength, { tailMs })],
    });
  },
});
