import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { tempoCount } from './tempo-count';

const loft = builtIn('bell-loft');
const many = conductor(100);
for (let i = 1; i < 90; i++) many.tempo(i * 480, 100 + (i % 7));

testRule(tempoCount, {
  valid: [{ name: 'few', target: loft, source: simple }],
  invalid: [
    {
      name: 'ninety',
      code: 'tempo-count',
      target: loft,
      source: song([many, line(...Array.from({ length: 90 }, () => 60))]),
      measured: 90,
    },
  ],
});
