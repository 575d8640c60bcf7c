import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { presetAgain } from './preset-again';

const box = builtIn('brine-box');

testRule(presetAgain, {
  valid: [
    { name: 'another bank', target: box, source: foot((t) => preset(preset(t, 0, 3), 960, 3, 1)) },
  ],
  invalid: [
    {
      name: 'the same',
      code: 'preset-again',
      severity: 'caution',
      target: box,
      source: foot((t) => preset(preset(t, 0, 3), 960, 3)),
      at: [960],
      measured: 1,
    },
    {
      name: 'and a program behind it that had its bank: it keeps it',
      code: 'preset-again',
      target: box,
      source: foot((t) => preset(preset(t, 0, 3, 1), 960, 3, 1).program(1920, 9, 5)),
      at: [960],
    },
  ],
});
