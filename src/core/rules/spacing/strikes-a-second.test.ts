import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { strikes } from './strikes-a-second';

testRule(strikes, {
  valid: [
    {
      name: 'three in a second, a fourth a second later',
      target: targetWith({ spacing: { strikesASecond: 3 } }),
      source: piece(at([0, 9, 60], [0, 9, 64], [320, 9, 60], [640, 9, 60], [960, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'a fourth one tick sooner',
      code: 'too-dense',
      target: targetWith({ spacing: { strikesASecond: 3 } }),
      source: piece(at([0, 9, 60], [320, 9, 60], [640, 9, 60], [959, 9, 60])),
      measured: 4,
      notes: 4,
    },
  ],
});
