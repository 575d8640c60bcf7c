import { firstInForce } from '../../time/tempo-map';
import type { Score } from '../../score/score';
import { bpm, stretches } from './holding';
import { meterParams, sayMeter } from './meters';
import { defineRule, mend, says } from '../define-rule';
import { holdBars } from '../../steps/timing/one-tempo-holding-bars';
import { setMeter } from '../../steps/timing/set-meter';

export const sameInAll = defineRule({
  id: 'same-in-all',
  summary: 'One tempo and one meter, the same in all files of a delivery.',
  story: {
    why: 'Files of one song were exported on different days, or carved out of a song that changes its tempo.',
    mends: 'All take the tempo or the meter of the first file.',
  },
  block: 'tempo',
  reads: ['constant'],
  phase: 'tempo and meter',
  over: 'delivery',
  codes: {
    'tempos-differ': says<{ values: string; first: string }>({
      title: 'Files with different tempos',
      wrong: (f) => `The files begin at ${f.values}.`,
      then: (f, w) => `${w.Target} runs all of them at that of ${f.first}.`,
    }),
    'meters-differ': says<{ values: string; first: string }>({
      title: 'Files with different meters',
      wrong: (f) => `The files begin in ${f.values}.`,
      then: (f, w) => `${w.Target} counts all of them as ${f.first}.`,
    }),
  },
  check({ block, target, pieces, report }) {
    if (!block.constant || pieces.length < 2) return;
    const first = pieces[0]!;
    const values = (of: (score: Score) => string) => [...new Set(pieces.map((p) => of(p.score)))];
    const tempos = values((s) => bpm(stretches(s)[0]!.us));
    const data = (list: string[]) => ({
      values: list.slice(0, 5).join(', '),
      first: first.delivery.fileName,
    });
    if (tempos.length > 1) {
      const us = stretches(first.score)[0]!.us;
      report({
        code: 'tempos-differ',
        data: data(tempos),
        measured: { value: tempos.length, unit: 'tempos' },
        mends: [mend(`Play all at ${bpm(us)}`, holdBars, { microsecondsPerQuarter: us })],
      });
    }
    if (!target.meter?.constant) return;
    const meterOf = (s: Score) =>
      firstInForce(s.conductor.meters) ?? { numerator: 4, denominator: 4 };
    const meters = values((s) => sayMeter(meterOf(s)));
    if (meters.length > 1)
      report({
        code: 'meters-differ',
        data: data(meters),
        measured: { value: meters.length, unit: 'meters' },
        mends: [mend(`Count all in ${meters[0]}`, setMeter, meterParams(meterOf(first.score)))],
      });
  },
});
