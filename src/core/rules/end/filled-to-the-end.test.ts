import { bars, piece, at, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { filled } from './filled-to-the-end';

testRule(filled, {
  valid: [
    {
      name: 'a note in the last bar',
      target: bars({ filled: true }),
      source: piece(at([BAR, 1, 60]), 2 * BAR),
    },
  ],
  invalid: [
    {
      name: 'an empty second bar',
      code: 'empty-end',
      target: bars({ filled: true }),
      source: piece(at([BAR - 1, 1, 60]), 2 * BAR),
      measured: 1,
      at: [BAR],
      lossless: [true],
    },
  ],
});
