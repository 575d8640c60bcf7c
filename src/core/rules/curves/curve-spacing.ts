import { spaceCurve } from '../../steps/curves/space';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, notBefore, ofBlocks, sayCurves, wantedOf } from './block-curves';

export const curveSpacing = defineRule({
  id: 'curve-spacing',
  summary: 'Values of one controller come no sooner than the target takes them.',
  story: {
    why: 'A switch was pressed twice in a hurry, or two tracks press it.',
    mends: 'What comes too soon waits; of several that would meet the last stays.',
  },
  block: 'curves',
  phase: 'spacing',
  codes: {
    'values-close': says<{
      name: string;
      countText: string;
      leastText: string;
      allowedText: string;
      one: number;
    }>({
      title: 'Controller values too close together',
      named: (f) => `${f.name}, too close together`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'follows' : 'follow'} another sooner than ${f.allowedText} ms, the closest after ${f.leastText} ms.`,
      then: (_, w) => `${w.Target} misses the second of them.`,
    }),
  },
  check({ curves, target, block, maps, report }) {
    const of = ofBlocks(block.list, curves, (b) => b.apartMs !== undefined);
    for (const { block: b, index, own } of of) {
      const apartMs = b.apartMs!;
      const close = new CurvePlaces();
      let least = Infinity;
      for (const curve of own) {
        let last = -Infinity;
        for (let i = 0; i < curve.count; i++) {
          const at = maps.clock.msAt(curve.tick[i]!);
          const gap = at - last;
          if (gap < apartMs - HAIR) {
            close.add(curve, i);
            least = Math.min(least, gap);
          } else last = at;
        }
      }
      if (close.count === 0) continue;
      report({
        code: 'values-close',
        cause: String(index),
        ...(b.severity ? { severity: b.severity } : {}),
        spans: spansOf(close.ticks),
        data: {
          name: sayCurves(b, close.own),
          countText: count(close.count, 'value'),
          leastText: plain(Math.floor(least)),
          allowedText: plain(apartMs),
          one: close.count === 1 ? 1 : 0,
        },
        measured: { value: least, unit: 'ms' },
        allowed: { apartMs },
        mends: [
          mend(`Space them ${plain(apartMs)} ms apart`, spaceCurve, {
            ...wantedOf(close.own),
            apartMs,
            ...notBefore(target),
          }),
        ],
      });
    }
  },
});
