import { BEND } from '../../reading/curves';
import { curveValues } from '../../steps/curves/values';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, ofBlocks, sayCurves, wantedOf } from './block-curves';

export const curveRange = defineRule({
  id: 'curve-values',
  summary: 'Controllers and bends have values that the target knows.',
  story: {
    why: 'A switch was recorded as a knob, or a level is meant for another device.',
    mends: 'Each value becomes the nearest that is known, or is kept within the bounds.',
  },
  block: 'curves',
  phase: 'events',
  codes: {
    'value-unknown': says<{ name: string; countText: string; known: string; one: number }>({
      title: 'Controller value not supported',
      named: (f) => `Values of ${f.name}`,
      wrong: (f) => `${f.countText} of ${f.name} ${f.one ? 'is' : 'are'} not ${f.known}.`,
      then: (_, w) => `${w.Target} passes over what it does not know.`,
    }),
    'value-beyond': says<{ name: string; countText: string; range: string; one: number }>({
      title: 'Controller value out of range',
      named: (f) => `${f.name} out of range`,
      wrong: (f) => `${f.countText} of ${f.name} ${f.one ? 'lies' : 'lie'} outside ${f.range}.`,
      then: (_, w) => `${w.Target} stops at its bound.`,
    }),
  },
  check({ curves, block, report }) {
    const of = ofBlocks(
      block.list,
      curves,
      (b) => b.values !== undefined || b.lowest !== undefined || b.highest !== undefined,
    );
    for (const { block: b, index, own } of of) {
      const known = b.values && new Set(b.values);
      const full = own[0]!.kind === BEND ? 16_383 : 127;
      const { lowest = 0, highest = full } = b;
      const [strange, beyond] = [new CurvePlaces(), new CurvePlaces()];
      for (const curve of own)
        for (let i = 0; i < curve.count; i++) {
          const value = curve.value[i]!;
          if (known && !known.has(value)) strange.add(curve, i);
          else if (value < lowest || value > highest) beyond.add(curve, i);
        }
      const base = { cause: String(index), ...(b.severity ? { severity: b.severity } : {}) };
      if (strange.count > 0)
        report({
          code: 'value-unknown',
          ...base,
          spans: spansOf(strange.ticks),
          data: {
            name: sayCurves(b, strange.own),
            countText: count(strange.count, 'value'),
            known:
              b.values!.length === 1
                ? String(b.values![0])
                : b.values!.length <= 4
                  ? `${b.values!.slice(0, -1).join(', ')} or ${b.values!.at(-1)}`
                  : `one of ${b.values!.length}`,
            one: strange.count === 1 ? 1 : 0,
          },
          measured: { value: strange.count, unit: 'values' },
          allowed: { values: b.values! },
          mends: [
            mend('Use the nearest value that is supported', curveValues, {
              ...wantedOf(strange.own),
              only: b.values!,
            }),
          ],
        });
      if (beyond.count > 0)
        report({
          code: 'value-beyond',
          ...base,
          spans: spansOf(beyond.ticks),
          data: {
            name: sayCurves(b, beyond.own),
            countText: count(beyond.count, 'value'),
            range: `${lowest}–${highest}`,
            one: beyond.count === 1 ? 1 : 0,
          },
          measured: { value: beyond.count, unit: 'values' },
          allowed: { lowest, highest },
          mends: [
            mend(`Keep them within ${lowest}–${highest}`, curveValues, {
              ...wantedOf(beyond.own),
              lowest,
              highest,
            }),
          ],
        });
    }
  },
});
