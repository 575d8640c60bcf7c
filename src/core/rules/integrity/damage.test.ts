import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, sourceFromBytes, smf, conductor } from '../../../../testing/score-builder';
import { damage } from './damage';

const plain = targetWith({});
const cut = smf(1, 480, [conductor(), line(60, 62)]).slice(0, -9);

testRule(damage, {
  valid: [{ name: 'whole', target: plain, source: simple }],
  invalid: [
    {
      name: 'cut off',
      code: 'damage',
      severity: 'caution',
      target: plain,
      source: sourceFromBytes(cut),
    },
  ],
});
