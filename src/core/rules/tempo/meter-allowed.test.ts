import { one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor } from '../../../../testing/score-builder';
import { meterAllowed } from './meter-allowed';

testRule(meterAllowed, {
  valid: [
    {
      name: '3/4',
      target: targetWith({ meter: { only: [{ numerator: 3, denominator: 4 }] } }),
      source: song([conductor(120, 3, 4), one()]),
    },
    {
      name: 'bars of one beat',
      target: targetWith({ meter: { only: [{ numerator: 1, denominator: 4 }] } }),
      source: song([conductor(120, 1, 4), one()]),
    },
  ],
  invalid: [
    {
      name: '6/8',
      code: 'meter-not-listed',
      target: targetWith({ meter: { only: [{ numerator: 3, denominator: 4 }] } }),
      source: song([conductor(120, 6, 8), one()]),
      lossless: [true],
    },
  ],
});
