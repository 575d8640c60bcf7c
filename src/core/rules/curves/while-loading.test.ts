import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { whileLoading } from './while-loading';

const box = builtIn('brine-box');
const turned = (...list: (readonly [tick: number, number: number, value: number])[]) =>
  foot((t) => {
    preset(t, 0, 0);
    for (const [tick, number, value] of list) t.control(tick, 9, number, value);
    return t;
  });

testRule(whileLoading, {
  valid: [
    // 34 ticks are 35.4 ms.
    { name: '35.4 ms behind', target: box, source: turned([34, 80, 127]) },
    { name: 'expression is heard', target: box, source: turned([1, 11, 5]) },
  ],
  invalid: [
    {
      name: '34.4 ms behind, and at once',
      code: 'value-missed',
      target: box,
      source: turned([0, 81, 127], [33, 80, 127]),
      at: [0, 33],
      measured: 2,
    },
  ],
});
