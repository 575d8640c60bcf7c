import { cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { clock } from './clock-time';

const rail = builtIn('lantern-rail');
const moving = song([conductor(96).tempo(960, 120), cues(0, 1440, 2880, 4320)]);

testRule(clock, {
  valid: [
    { name: 'as it came', target: rail, source: moving },
    {
      name: 'all later alike',
      target: rail,
      source: moving,
      steps: [{ step: 'rest-at-start', params: { bars: 3 } }],
    },
    {
      name: 'held',
      target: rail,
      source: moving,
      steps: [{ step: 'one-tempo-holding-clock', params: { microsecondsPerQuarter: 500000 } }],
    },
  ],
  invalid: [
    {
      name: 'bars were held instead',
      code: 'clock-moved',
      target: rail,
      source: moving,
      steps: [{ step: 'one-tempo-holding-bars', params: { microsecondsPerQuarter: 500000 } }],
    },
  ],
});
