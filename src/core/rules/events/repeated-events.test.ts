import { line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor } from '../../../../testing/score-builder';
import { repeatedEvents } from './repeated-events';

const plain = targetWith({});

testRule(repeatedEvents, {
  valid: [
    {
      name: 'each new',
      target: plain,
      source: song([conductor(), line(60).control(0, 1, 7, 20).control(1, 1, 7, 30)]),
    },
  ],
  invalid: [
    {
      name: 'volume twice',
      code: 'repeated',
      severity: 'remark',
      target: plain,
      source: song([conductor(), line(60).control(0, 1, 7, 20).control(0, 1, 7, 20)]),
      measured: 1,
      lossless: [true],
    },
  ],
});
