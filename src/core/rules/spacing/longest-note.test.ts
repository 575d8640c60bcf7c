import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { longest } from './longest-note';

const fog = builtIn('fog-pier');

testRule(longest, {
  valid: [{ name: '900 ms', target: fog, source: piece(at([0, 864, 60])) }],
  invalid: [
    {
      name: '901 ms',
      code: 'too-long',
      target: fog,
      source: piece(at([0, 865, 60])),
      measured: 901.042,
      lossless: [false],
    },
  ],
});
