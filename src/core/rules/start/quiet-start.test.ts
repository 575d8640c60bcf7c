import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, targetWith, song, conductor, Track } from '../../../../testing/score-builder';
import { quietStart } from './quiet-start';

const box = builtIn('brine-box');

testRule(quietStart, {
  valid: [
    {
      name: 'at tick 0 and at 500 ms',
      target: box,
      source: foot((t) => preset(t, 0, 0).control(480, 9, 80, 127)),
    },
  ],
  invalid: [
    {
      name: 'at 499 ms',
      code: 'start-busy',
      target: box,
      source: foot((t) => preset(t, 0, 0).control(479, 9, 80, 127)),
      at: [479],
      measured: 498.958,
      lossless: [false, true],
    },
    {
      name: 'a note, of what takes notes',
      code: 'start-busy',
      target: targetWith({ start: { quietMs: 1200 } }),
      source: song([conductor(), new Track('One').note(1, 960, 480, 60, 90)]),
      at: [960],
      measured: 1000,
      lossless: [true],
    },
  ],
});
