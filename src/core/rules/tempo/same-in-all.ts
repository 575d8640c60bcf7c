import { firstInForce } from '../../time/tempo-map';
import type { Piece } from '../../score/piece';
import type { Score } from '../../score/score';
import type { Target } from '../../target/schema';
import type { Mend } from '../finding';
import { bpm, holdClockAt, stretches } from './holding';
import { meterParams, sayMeter } from './meters';
import { defineRule, mend, says } from '../define-rule';
import { holdBars } from '../../steps/timing/one-tempo-holding-bars';
import { setMeter } from '../../steps/timing/set-meter';

/** The value of the pieces that sound longest together; the first of equals. */
function mostOf<T>(pieces: readonly Piece[], of: (piece: Piece) => T): T {
  const ms = new Map<T, number>();
  for (const p of pieces) {
    const own = stretches(p.score).reduce((sum, s) => sum + s.ms, 0);
    ms.set(of(p), (ms.get(of(p)) ?? 0) + own);
  }
  return [...ms].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
}

/** Each file that runs otherwise, held at its clock times with a PPQ of its own. */
function allHeld(pieces: readonly Piece[], target: Target, us: number): Mend {
  const others = pieces.filter(({ score }) => stretches(score).some((s) => s.us !== us));
  return {
    title: `Hold clock time at ${bpm(us)} in all`,
    steps: others.flatMap(({ score, delivery }) =>
      holdClockAt(score, target, us).steps.map((s) => ({
        ...s,
        scope: { ...s.scope, file: delivery.fileName },
      })),
    ),
  };
}

export const sameInAll = defineRule({
  id: 'same-in-all',
  summary: 'One tempo and one meter, the same in all files of a delivery.',
  story: {
    why: 'Files of one song were exported on different days, or carved out of a song that changes its tempo.',
    mends:
      'All take the tempo or the meter that most of the music has, at their clock times where the target keeps them.',
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
      // A bar of set-up stands first as often as not: what most of the music runs at is meant.
      const us = mostOf(pieces, ({ score }) => stretches(score)[0]!.us);
      report({
        code: 'tempos-differ',
        data: data(tempos),
        measured: { value: tempos.length, unit: 'tempos' },
        mends: [
          // What runs beside a recording may not be moved on the clock.
          ...(target.clock ? [allHeld(pieces, target, us)] : []),
          mend(`Play all at ${bpm(us)}`, holdBars, { microsecondsPerQuarter: us }),
        ],
      });
    }
    if (!target.meter?.constant) return;
    const meterOf = (s: Score) =>
      firstInForce(s.conductor.meters) ?? { numerator: 4, denominator: 4 };
    const meters = values((s) => sayMeter(meterOf(s)));
    if (meters.length > 1) {
      const meter = mostOf(pieces, ({ score }) => sayMeter(meterOf(score)));
      const found = pieces.map((p) => meterOf(p.score)).find((m) => sayMeter(m) === meter)!;
      report({
        code: 'meters-differ',
        data: data(meters),
        measured: { value: meters.length, unit: 'meters' },
        mends: [mend(`Count all in ${meter}`, setMeter, meterParams(found))],
      });
    }
  },
});
