import { piece, one, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { fileSize } from './file-size';

testRule(fileSize, {
  valid: [
    { name: 'room enough', target: targetWith({ file: { mostBytes: 200 } }), source: piece(one()) },
  ],
  invalid: [
    {
      name: 'too large',
      code: 'file-large',
      target: targetWith({ file: { mostBytes: 100 } }),
      source: piece(
        at(...Array.from({ length: 20 }, (_, i): [number, number, number] => [i * 480, 9, 60])),
      ),
    },
  ],
});
