import { defineRule, mend, says } from '../define-rule';
import { holdClock } from '../../steps/timing/one-tempo-holding-clock';
import { ppqAllowed } from '../file/ppq';
import { ppqForClock, sayBpm } from '../../time/tempos';
import { tempoToHold } from '../tempo/holding';
import { ticksPerQuarterOf } from '../../score/score';

export const division = defineRule({
  id: 'division',
  summary: 'Time is counted in quarter notes, not in frames.',
  story: {
    why: 'A film or show program counts frames, so that its file has neither tempo nor bars.',
    mends: 'Every note stays at its clock time and is written at one tempo, finely enough.',
  },
  block: null,
  phase: 'tempo and meter',
  codes: {
    frames: says<{ rate: number }>({
      title: 'SMF timed in frames',
      wrong: (f) => `This file counts ${f.rate} frames a second, not quarter notes.`,
      then: (_, w) => `${w.Target} reads PPQ only, and has no tempo to count by.`,
    }),
  },
  check({ piece, target, report }) {
    const { division } = piece.score;
    if (division.kind !== 'smpte') return;
    const us = tempoToHold(piece.score, target.tempo ?? {});
    const from = ticksPerQuarterOf(division);
    const ticksPerQuarter = ppqForClock(from, us, (p) => ppqAllowed(target.file?.ppq, p));
    report({
      code: 'frames',
      data: { rate: division.framesPerSecond },
      measured: { value: division.framesPerSecond, unit: 'frames a second' },
      mends: [
        mend(`Hold clock time at ${sayBpm(us)}`, holdClock, {
          microsecondsPerQuarter: us,
          ticksPerQuarter,
        }),
      ],
    });
  },
});
