import type { Target } from '../../target/schema';
import { defineRule, mend, says } from '../define-rule';
import { setPpq } from '../../steps/timing/set-ppq';
import { ticksPerQuarterOf } from '../../score/score';

type PpqLimits = NonNullable<NonNullable<Target['file']>['ppq']>;

export const ppqAllowed = (limits: PpqLimits | undefined, ppq: number): boolean =>
  !limits ||
  (ppq % (limits.multipleOf ?? 1) === 0 &&
    ppq >= (limits.lowest ?? 1) &&
    ppq <= (limits.highest ?? 32_767) &&
    (limits.only?.includes(ppq) ?? true));

/** Allowed PPQ to change to: a multiple of the present one where there is one, else the nearest above, else the finest. */
export function nearestPpq(limits: PpqLimits, ppq: number): number | null {
  const allowed: number[] = [];
  for (let p = 1; p <= 32_767; p++) if (ppqAllowed(limits, p)) allowed.push(p);
  return (
    allowed.find((p) => p % ppq === 0) ?? allowed.find((p) => p >= ppq) ?? allowed.at(-1) ?? null
  );
}

export const ppq = defineRule({
  id: 'ppq',
  summary: 'Ticks to a quarter note.',
  story: {
    why: 'Every program has its own resolution, and some devices divide it by a fixed clock.',
    mends:
      'The same music is written with an allowed number of ticks; a start moves by half a tick at most.',
  },
  block: 'file',
  reads: ['ppq'],
  phase: 'tempo and meter',
  codes: {
    ppq: says<{ ppq: number; allowed: string }>({
      title: 'PPQ not supported',
      named: (f) => `PPQ ${f.ppq}, takes ${f.allowed}`,
      wrong: (f) => `The file has ${f.ppq} ticks to a quarter note.`,
      then: (f, w) => `${w.Target} takes ${f.allowed}.`,
    }),
  },
  check({ block, piece, report }) {
    const { division } = piece.score;
    // Frames have a finding of their own.
    if (division.kind === 'smpte' || !block.ppq) return;
    const ppq = ticksPerQuarterOf(division);
    if (ppqAllowed(block.ppq, ppq)) return;
    const to = nearestPpq(block.ppq, ppq);
    const { multipleOf, lowest, highest, only } = block.ppq;
    const allowed = [
      multipleOf ? `a multiple of ${multipleOf}` : '',
      lowest ? `at least ${lowest}` : '',
      highest ? `at most ${highest}` : '',
      only ? only.join(', ') : '',
    ];
    report({
      code: 'ppq',
      data: { ppq, allowed: allowed.filter(Boolean).join(', ') },
      measured: { value: ppq, unit: 'ticks per quarter' },
      allowed: { ppq: block.ppq },
      ...(to === null
        ? { noMend: 'No PPQ satisfies all limits of this target.' }
        : { mends: [mend(`Write PPQ ${to}`, setPpq, { ticksPerQuarter: to })] }),
    });
  },
});
