import { piece, at, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { inBar1 } from './in-bar-1';

testRule(inBar1, {
  valid: [
    {
      name: 'on the last tick of bar 1',
      target: targetWith({ start: { inBar1: true } }),
      source: piece(at([BAR - 1, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'on bar 2',
      code: 'empty-start',
      target: targetWith({ start: { inBar1: true } }),
      source: piece(at([BAR, 9, 60])),
      measured: 1,
      lossless: [true],
    },
  ],
});
