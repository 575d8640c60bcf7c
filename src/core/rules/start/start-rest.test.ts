import { cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { startRest } from './start-rest';

const rail = builtIn('lantern-rail');

testRule(startRest, {
  valid: [
    { name: 'three bars', target: rail, source: song([conductor(), cues(5760)]) },
    { name: 'no notes', target: rail, source: song([conductor()]) },
  ],
  invalid: [
    {
      name: 'at once',
      code: 'rest-owed',
      target: rail,
      source: song([conductor(96, 3, 4), cues(0, 960)]),
      at: [0],
      measured: 0,
      notes: 2,
      lossless: [true],
    },
    {
      name: 'a tick short, 7/8 at PPQ 25',
      code: 'rest-owed',
      target: rail,
      source: song([conductor(90, 7, 8), cues(262)], { ppq: 25 }),
      measured: 2,
      lossless: [true],
    },
  ],
});
