import { piece, one, BAR, carved } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { namesApart } from './names-apart';

const named = targetWith({
  naming: { prefixes: ['1_', '2_'], letters: 'any', longest: 20, ending: '.mid' },
});

testRule(namesApart, {
  valid: [
    {
      name: 'two places',
      target: named,
      source: piece(one(), 2 * BAR),
      steps: carved(['a', '1_a.mid', 1, 1], ['b', '2_b.mid', 2, 1]),
    },
  ],
  invalid: [
    {
      name: 'one place twice',
      code: 'name-taken',
      target: named,
      source: piece(one(), 2 * BAR),
      steps: carved(['a', '1_a.mid', 1, 1], ['b', '1_b.mid', 2, 1]),
      lossless: [true],
    },
    {
      name: 'no number is left',
      code: 'name-taken',
      target: named,
      source: piece(one(), 3 * BAR),
      steps: carved(['a', '1_a.mid', 1, 1], ['b', '2_b.mid', 2, 1], ['c', '2_c.mid', 3, 1]),
      lossless: [],
    },
    {
      name: 'two that are called alike: a step could not tell which it is for',
      code: 'name-taken',
      target: named,
      source: piece(one(), 2 * BAR),
      steps: [
        ...carved(['a', '1_a.mid', 1, 1], ['b', '1_b.mid', 2, 1]),
        { step: 'name-file', params: { name: '1_a.mid' } },
      ],
      lossless: [],
    },
  ],
});
