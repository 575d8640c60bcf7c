import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { curveSpacing } from './curve-spacing';

const box = builtIn('brine-box');
const turned = (...list: (readonly [tick: number, number: number, value: number])[]) =>
  foot((t) => {
    preset(t, 0, 0);
    for (const [tick, number, value] of list) t.control(tick, 9, number, value);
    return t;
  });

testRule(curveSpacing, {
  valid: [
    { name: '25 ms', target: box, source: turned([960, 80, 127], [984, 80, 0]) },
    { name: 'another block', target: box, source: turned([960, 80, 127], [961, 81, 127]) },
  ],
  invalid: [
    {
      name: '24 ms',
      code: 'values-close',
      target: box,
      source: turned([960, 80, 127], [983, 80, 0]),
      at: [983],
      measured: 23.958,
    },
    {
      name: 'three at one tick: the last stays',
      code: 'values-close',
      target: box,
      source: turned([960, 80, 127], [960, 80, 0], [960, 80, 127]),
      measured: 0,
    },
  ],
});
