import { restCurve } from '../../steps/curves/rest';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, ofBlocks, sayCurves, wantedOf } from './block-curves';

export const atRest = defineRule({
  id: 'at-rest',
  summary: 'At the end everything has the value at which it rests.',
  story: {
    why: 'The song was faded by hand, and the last level stayed.',
    mends: 'One more value is sent at the end.',
  },
  block: 'curves',
  phase: 'end',
  codes: {
    'not-at-rest': says<{ name: string; countText: string; rest: number; one: number }>({
      title: 'Value not at rest at the end',
      named: (f) => `${f.name} left standing at the end`,
      wrong: (f) => `${f.name}: ${f.countText} ${f.one ? 'does' : 'do'} not end at ${f.rest}.`,
      then: (_, w) => `${w.Target} stays so until the next show.`,
    }),
  },
  check({ curves, target, block, report }) {
    const of = ofBlocks(block.list, curves, (b) => b.rest !== undefined);
    for (const { block: b, index, own } of of) {
      const standing = new CurvePlaces();
      for (const curve of own)
        if (curve.value[curve.count - 1] !== b.rest) standing.add(curve, curve.count - 1);
      if (standing.count === 0) continue;
      const tail = target.end?.tailMs;
      report({
        code: 'not-at-rest',
        cause: String(index),
        ...(b.severity ? { severity: b.severity } : {}),
        spans: spansOf(standing.ticks),
        data: {
          name: sayCurves(b, standing.own),
          countText: count(standing.count, 'controller'),
          rest: b.rest!,
          one: standing.count === 1 ? 1 : 0,
        },
        measured: { value: standing.count, unit: 'controllers' },
        allowed: { rest: b.rest! },
        mends: [
          mend(`Send ${b.rest} at the end`, restCurve, {
            ...wantedOf(standing.own),
            value: b.rest!,
            ...(tail === undefined ? {} : { beforeEndMs: tail }),
          }),
        ],
      });
    }
  },
});
