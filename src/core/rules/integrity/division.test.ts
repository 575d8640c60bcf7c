import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song } from '../../../../testing/score-builder';
import { division } from './division';

const plain = targetWith({});

testRule(division, {
  valid: [{ name: 'PPQ', target: plain, source: simple }],
  invalid: [
    {
      name: 'frames, for a target that says nothing of PPQ',
      code: 'frames',
      target: plain,
      source: song([line(60)], { ppq: 0xe728 }),
      measured: 25,
      lossless: [true],
    },
  ],
});
