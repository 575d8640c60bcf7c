import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor } from '../../../../testing/score-builder';
import { stuck } from './stuck-note';

const plain = targetWith({});

testRule(stuck, {
  valid: [{ name: 'all end', target: plain, source: simple }],
  invalid: [
    {
      name: 'one hangs',
      code: 'stuck',
      target: plain,
      source: song([conductor(), line(60, 62).hang(1, 1920, 64, 90)], { endTick: 9600 }),
      notes: 1,
      at: [1920],
    },
  ],
});
