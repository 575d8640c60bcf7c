import { cues, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { tempoRange } from './tempo-range';

const rail = builtIn('lantern-rail');
const loft = builtIn('bell-loft');

testRule(tempoRange, {
  valid: [
    { name: 'at the limits', target: rail, source: song([conductor(60).tempo(960, 180), cues(0)]) },
  ],
  invalid: [
    {
      name: 'too slow',
      code: 'tempo-range',
      target: rail,
      source: song([conductor(40), cues(0, 960)]),
      measured: 40,
      lossless: [true, false],
    },
    {
      name: 'too fast further on',
      code: 'tempo-range',
      target: loft,
      source: song([conductor().tempo(960, 200), line(60, 62, 64)]),
      at: [960],
    },
  ],
});
