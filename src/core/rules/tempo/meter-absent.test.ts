import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, Track } from '../../../../testing/score-builder';
import { meterAbsent } from './meter-absent';

const plain = targetWith({});

testRule(meterAbsent, {
  valid: [{ name: 'written', target: plain, source: simple }],
  invalid: [
    {
      name: 'none',
      code: 'meter-absent',
      severity: 'caution',
      target: plain,
      source: song([line(60)]),
      lossless: [true],
    },
    {
      name: 'late',
      code: 'meter-absent',
      target: plain,
      source: song([new Track().meter(1920, 3, 4), line(60)]),
      lossless: [true],
    },
  ],
});
