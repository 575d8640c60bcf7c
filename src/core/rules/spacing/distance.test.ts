import { cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { apart } from './distance';

const rail = builtIn('lantern-rail');

testRule(apart, {
  valid: [{ name: '250 ms apart', target: rail, source: song([conductor(), cues(0, 240)]) }],
  invalid: [
    {
      name: '200 ms apart',
      code: 'too-close',
      target: rail,
      source: song([conductor(), cues(0, 192, 960)]),
      at: [192],
      measured: 200,
      notes: 1,
    },
  ],
});
