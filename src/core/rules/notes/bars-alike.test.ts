import { piece, at, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { barsAlike } from './bars-alike';

testRule(barsAlike, {
  valid: [
    {
      name: 'one velocity differs',
      target: targetWith({ notes: { barsAlike: 'caution' } }),
      source: piece(at([0, 9, 60, 90], [BAR, 9, 60, 91])),
    },
  ],
  invalid: [
    {
      name: 'two alike',
      code: 'bars-alike',
      severity: 'caution',
      target: targetWith({ notes: { barsAlike: 'caution' } }),
      source: piece(at([0, 9, 60], [BAR, 9, 60])),
      measured: 2,
    },
  ],
});
