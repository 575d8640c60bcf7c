import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { tail } from './tail';

const box = builtIn('brine-box');
const ending = (endTick: number) =>
  foot((t) => preset(t, 0, 0).control(2400, 9, 80, 127), { endTick });

testRule(tail, {
  valid: [{ name: '2.5 s behind', target: box, source: ending(4800) }],
  invalid: [
    {
      name: '2.499 s behind',
      code: 'tail-cut',
      target: box,
      source: ending(4799),
      at: [2400],
      measured: 2498.958,
      lossless: [true],
    },
  ],
});
