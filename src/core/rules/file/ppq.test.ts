import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, targetWith, song, conductor } from '../../../../testing/score-builder';
import { ppq } from './ppq';

const loft = builtIn('bell-loft');
const plain = targetWith({});

testRule(ppq, {
  valid: [
    { name: '480 is a multiple of 24', target: loft, source: simple },
    { name: 'no limit', target: plain, source: song([conductor(), line(60)], { ppq: 97 }) },
  ],
  invalid: [
    {
      name: '250',
      code: 'ppq',
      target: loft,
      source: song([conductor(), line(60, 62)], { ppq: 250 }),
      measured: 250,
      lossless: [true],
    },
    {
      name: '1920 is too fine',
      code: 'ppq',
      target: loft,
      source: song([conductor(), line(60, 62)], { ppq: 1920 }),
    },
  ],
});
