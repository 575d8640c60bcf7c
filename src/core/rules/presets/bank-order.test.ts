import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { bankOrder } from './bank-order';

const box = builtIn('brine-box');

testRule(bankOrder, {
  valid: [
    // 19 ticks are 19.8 ms at 120 BPM.
    { name: '19.8 ms', target: box, source: foot((t) => t.control(0, 9, 0, 1).program(19, 9, 1)) },
    {
      name: 'in force already',
      target: box,
      source: foot((t) => preset(t, 0, 1).program(960, 9, 2)),
    },
  ],
  invalid: [
    {
      name: '20.8 ms',
      code: 'bank-far',
      target: box,
      source: foot((t) => t.control(0, 9, 0, 1).program(20, 9, 1)),
      at: [0],
      measured: 20.833,
      lossless: [true],
    },
  ],
});
