import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { curveSettled } from './curve-settled';

const box = builtIn('brine-box');
const next = (...ticks: number[]) =>
  foot((t) => {
    preset(preset(t, 0, 0), 3840, 1);
    ticks.forEach((tick, i) => t.control(tick, 9, 11, 10 + i));
    return t;
  });
testRule(curveSettled, {
  valid: [{ name: '10.4 ms before', target: box, source: next(3830) }],
  invalid: [
    {
      name: '9.4 ms before',
      code: 'not-settled',
      target: box,
      source: next(3820, 3831),
      at: [3831],
      measured: 1,
      lossless: [false],
    },
    {
      name: 'many: the last value stays',
      code: 'not-settled',
      target: box,
      source: next(3000, 3832, 3834, 3839),
      measured: 3,
    },
  ],
});
