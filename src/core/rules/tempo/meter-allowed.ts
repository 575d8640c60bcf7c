import { defineRule, mend, says, spanAt } from '../define-rule';
import { meterParams, sayMeter } from './meters';
import { setMeter } from '../../steps/timing/set-meter';

export const meterAllowed = defineRule({
  id: 'meter-allowed',
  summary: 'Only meters that the target can count.',
  story: {
    why: 'A piece in compound time goes to a device that counts in quarters.',
    mends: 'All is counted in a meter that is allowed; the notes stay where they are.',
  },
  block: 'meter',
  reads: ['only'],
  phase: 'tempo and meter',
  codes: {
    'meter-not-listed': says<{ meters: string; allowed: string }>({
      title: 'Meter not supported',
      wrong: (f) => `The piece has ${f.meters}.`,
      then: (f, w) => `${w.Target} counts ${f.allowed} only.`,
    }),
  },
  check({ block, maps, report }) {
    if (!block.only) return;
    const allowed = new Set(block.only.map(sayMeter));
    const out = maps.bars.meters.filter((m) => !allowed.has(sayMeter(m)));
    if (out.length === 0) return;
    const first = block.only[0]!;
    report({
      code: 'meter-not-listed',
      spans: out.map((m) => spanAt(m.tick)),
      data: {
        meters: [...new Set(out.map(sayMeter))].slice(0, 6).join(', '),
        allowed: [...allowed].join(', '),
      },
      measured: { value: out.length, unit: 'meters' },
      allowed: { only: block.only },
      mends: [mend(`Count it all in ${sayMeter(first)}`, setMeter, meterParams(first))],
    });
  },
});
