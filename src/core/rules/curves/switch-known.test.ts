import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { switchKnown } from './switch-known';

const box = builtIn('brine-box');
const on = (...list: (readonly [number, number, number])[]) =>
  foot((t) => {
    // B2 switches 82 and 81 on by itself.
    preset(t, 0, 1, 1);
    for (const [tick, n, v] of list) t.control(tick, 9, n, v);
    return t;
  });
testRule(switchKnown, {
  valid: [
    { name: 'off, then on', target: box, source: on([960, 82, 0], [1920, 82, 127]) },
    { name: 'one that is off', target: box, source: on([960, 80, 127]) },
  ],
  invalid: [
    {
      name: 'on again',
      code: 'switch-known',
      severity: 'remark',
      target: box,
      source: on([960, 82, 127], [1920, 82, 0]),
      at: [960],
      measured: 1,
    },
    {
      name: 'two of them',
      code: 'switch-known',
      target: box,
      source: on([960, 82, 127], [960, 83, 0]),
      measured: 2,
    },
  ],
});
