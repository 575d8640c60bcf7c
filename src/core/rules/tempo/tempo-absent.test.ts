import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, Track } from '../../../../testing/score-builder';
import { tempoAbsent } from './tempo-absent';

const plain = targetWith({});

testRule(tempoAbsent, {
  valid: [{ name: 'written', target: plain, source: simple }],
  invalid: [
    {
      name: 'none',
      code: 'tempo-absent',
      severity: 'caution',
      target: plain,
      source: song([line(60)]),
      lossless: [true],
    },
    {
      name: 'late',
      code: 'tempo-absent',
      target: plain,
      source: song([new Track().tempo(1920, 90), line(60)]),
      lossless: [true],
    },
  ],
});
