import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { presetAtStart } from './preset-at-start';

const box = builtIn('brine-box');

testRule(presetAtStart, {
  valid: [{ name: 'at tick 0', target: box, source: foot((t) => preset(t, 0, 3)) }],
  invalid: [
    {
      name: 'at tick 1',
      code: 'preset-missing',
      target: box,
      source: foot((t) => preset(t, 1, 3)),
      measured: 1,
    },
    {
      name: 'at tick 1, one that it has not: it begins with one that it has',
      code: 'preset-missing',
      target: box,
      source: foot((t) => preset(t, 1, 99)),
      measured: 1,
    },
    {
      name: 'none at all',
      code: 'preset-missing',
      target: box,
      source: foot((t) => t.control(960, 9, 80, 127)),
      measured: -1,
    },
  ],
});
