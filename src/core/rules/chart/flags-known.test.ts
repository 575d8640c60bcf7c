import { ladder, piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { flagKnown } from './flags-known';

testRule(flagKnown, {
  valid: [
    {
      name: 'a known flag',
      target: ladder,
      source: piece(at([0, 60, 24])),
      steps: [{ step: 'flags', params: { flag: 'feather' } }],
    },
  ],
  invalid: [
    {
      name: 'another',
      code: 'flag-unknown',
      target: ladder,
      source: piece(at([0, 60, 24])),
      steps: [{ step: 'flags', params: { flag: 'gilded' } }],
      notes: 1,
      lossless: [true],
    },
  ],
});
