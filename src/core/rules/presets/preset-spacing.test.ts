import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { presetSpacing } from './preset-spacing';

const box = builtIn('brine-box');

testRule(presetSpacing, {
  valid: [{ name: '150 ms', target: box, source: foot((t) => preset(preset(t, 480, 0), 624, 1)) }],
  invalid: [
    {
      name: '149 ms: the last stays',
      code: 'presets-close',
      target: box,
      source: foot((t) => preset(preset(t, 480, 0), 623, 1)),
      at: [623],
      measured: 148.958,
      lossless: [false],
    },
    {
      name: 'three in a row, the first at the start: it stays',
      code: 'presets-close',
      target: box,
      source: foot((t) => preset(preset(preset(t, 0, 0), 60, 1), 120, 2)),
      at: [60, 120],
    },
  ],
});
