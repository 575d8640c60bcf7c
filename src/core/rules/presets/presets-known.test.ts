import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { presetsKnown } from './presets-known';

const box = builtIn('brine-box');

testRule(presetsKnown, {
  valid: [{ name: 'A1', target: box, source: foot((t) => preset(t, 0, 0)) }],
  invalid: [
    {
      name: 'nothing is in bank B at 5, twice',
      code: 'preset-unknown',
      target: box,
      source: foot((t) => preset(preset(preset(t, 0, 0), 960, 4, 1), 1920, 4, 1)),
      at: [960, 1920],
      measured: 2,
      lossless: [false, false],
    },
    {
      name: 'a bank that is not there, in force for a later program too',
      code: 'preset-unknown',
      target: box,
      source: foot((t) => preset(t, 0, 0, 7).program(960, 9, 0)),
      at: [0, 960],
      measured: 2,
    },
  ],
});
