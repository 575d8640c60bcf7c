import { sayTimes } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { meterParams, sayMeter } from './meters';
import { setMeter } from '../../steps/timing/set-meter';

export const meterConstant = defineRule({
  id: 'meter-constant',
  summary: 'One meter for the whole piece.',
  story: {
    why: 'A bar was cut short by hand, or a pick-up was written as a meter of its own.',
    mends: 'All is counted in the first meter; the notes stay where they are.',
  },
  block: 'meter',
  reads: ['constant'],
  phase: 'tempo and meter',
  codes: {
    'meter-changes': says<{ changes: number; meters: string; first: string }>({
      title: 'Meter changes not supported',
      wrong: (f) => `The meter changes ${sayTimes(f.changes)}: ${f.meters}.`,
      then: (f, w) => `${w.Target} counts the whole piece in ${f.first}.`,
    }),
  },
  check({ block, piece, maps, report }) {
    if (!block.constant) return;
    const { meters } = maps.bars;
    const changes = meters.filter((m, i) => i > 0 && sayMeter(m) !== sayMeter(meters[i - 1]!));
    const written = piece.score.conductor.meters;
    if (changes.length === 0 && written.length <= 1) return;
    const first = meters[0]!;
    if (changes.length === 0 && meters.length === 1) {
      report({
        code: 'meter-changes',
        severity: 'caution',
        cause: 'repeated',
        spans: written.slice(1).map((m) => spanAt(m.tick)),
        data: {
          changes: written.length - 1,
          meters: `${sayMeter(first)} again`,
          first: sayMeter(first),
        },
        mends: [mend('Say the meter once', setMeter, meterParams(first))],
      });
      return;
    }
    const said = [...new Set(meters.map(sayMeter))];
    report({
      code: 'meter-changes',
      spans: meters.slice(1).map((m) => spanAt(m.tick)),
      data: {
        changes: meters.length - 1,
        meters: said.slice(0, 6).join(', ') + (said.length > 6 ? '…' : ''),
        first: sayMeter(first),
      },
      measured: { value: meters.length, unit: 'meters' },
      allowed: { meters: 1 },
      mends: [mend(`Count it all in ${sayMeter(first)}`, setMeter, meterParams(first))],
    });
  },
});
