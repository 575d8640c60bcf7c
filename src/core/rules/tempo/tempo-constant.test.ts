import { cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { tempoConstant } from './tempo-constant';

const rail = builtIn('lantern-rail');

testRule(tempoConstant, {
  valid: [{ name: 'one', target: rail, source: song([conductor(), cues(0, 480)]) }],
  invalid: [
    {
      name: 'two changes',
      code: 'tempo-changes',
      target: rail,
      source: song([conductor(96).tempo(1440, 112).tempo(2880, 120), cues(0, 960, 1700, 3333)]),
      at: [1440, 2880],
      measured: 3,
      // Holding the bars moves every note on the clock, by whichever tempo.
      lossless: [true, false, false],
    },
    {
      name: 'the same tempo again',
      code: 'tempo-repeated',
      severity: 'caution',
      target: rail,
      source: song([conductor(96).tempo(1440, 96), cues(0, 960)]),
      lossless: [true],
    },
  ],
});
