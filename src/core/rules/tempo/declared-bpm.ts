import { bpmOf } from '../../time/tempo-map';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { holdBars } from '../../steps/timing/one-tempo-holding-bars';
import { metadata } from '../../steps/facts';
import { plain } from '../../target/words';
import { stretches } from './holding';

export const declaredBpm = defineRule({
  id: 'declared-bpm',
  summary: 'The BPM that is declared agrees with the first tempo of the file.',
  story: {
    why: 'The BPM was typed from memory.',
    mends: 'Declare what the file has, or play at what is declared.',
  },
  block: 'tempo',
  reads: ['declaredWithinBpm'],
  phase: 'naming',
  needs: ['declared'],
  codes: {
    'declared-differs': says<{ declared: string; file: string; drift: string }>({
      title: 'Declared BPM differs from the file',
      wrong: (f) => `${f.declared} BPM are declared, the file begins at ${f.file}.`,
      then: (f, w) =>
        `${w.Target} goes by what is declared: after one minute it stands ${f.drift} ms beside the sound.`,
    }),
  },
  check({ block, target, piece, report, need }) {
    if (block.declaredWithinBpm === undefined) return;
    const said = piece.delivery.metadata?.bpm;
    if (said === undefined) {
      // Where it is asked for as metadata, that finding says so already.
      if (!target.metadata?.required.some((f) => f.key === 'bpm')) need('declared');
      return;
    }
    const first = stretches(piece.score)[0]!;
    const file = bpmOf(first.us);
    const declared = Number(said);
    if (Math.abs(declared - file) <= block.declaredWithinBpm + 1e-9) return;
    const us = Math.round(60_000_000 / declared);
    report({
      code: 'declared-differs',
      spans: [spanAt(0)],
      data: {
        declared: said,
        file: plain(file),
        drift: plain(Math.abs(60_000 * (file / declared - 1))),
      },
      measured: { value: Math.round(file * 1000) / 1000, unit: 'BPM' },
      allowed: { declared, declaredWithinBpm: block.declaredWithinBpm },
      mends: [
        mend(`Declare ${plain(file)} BPM`, metadata, {
          bpm: String(Math.round(file * 1000) / 1000),
        }),
        ...(Number.isFinite(us) && us > 0 && us <= 0xffffff
          ? [
              mend(`Play at ${plain(declared)} BPM, holding bars`, holdBars, {
                microsecondsPerQuarter: us,
              }),
            ]
          : []),
      ],
    });
  },
});
