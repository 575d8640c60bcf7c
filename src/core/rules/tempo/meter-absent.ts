import { defineRule, mend, says, spanAt } from '../define-rule';
import { setMeter } from '../../steps/timing/set-meter';

export const meterAbsent = defineRule({
  id: 'meter-absent',
  summary: 'A meter is written at tick 0.',
  story: {
    why: 'Drum editors and loops often name no meter.',
    mends: 'The meter that readers assume, 4/4, is written at the start.',
  },
  block: null,
  phase: 'tempo and meter',
  codes: {
    'meter-absent': says<{ none: number; bar: number }>({
      title: 'Meter missing at the start',
      wrong: (f) =>
        f.none ? 'The file names no meter.' : `The first meter stands at bar ${f.bar}.`,
      then: (_, w) => `Readers assume 4/4 until then, and ${w.target} counts its bars by it.`,
    }),
  },
  check({ piece, maps, report }) {
    const first = piece.score.conductor.meters[0];
    if (first?.tick === 0) return;
    report({
      code: 'meter-absent',
      severity: 'caution',
      spans: [spanAt(0)],
      data: { none: first ? 0 : 1, bar: first ? maps.bars.barAt(first.tick) + 1 : 0 },
      mends: [
        mend('Write 4/4 at the start', setMeter, { numerator: 4, denominator: 4, keepLater: true }),
      ],
    });
  },
});
