import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { noteCount } from './note-count';

testRule(noteCount, {
  valid: [
    {
      name: 'two of two',
      target: targetWith({ notes: { most: 2 } }),
      source: piece(at([0, 9, 60], [9, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'three of two',
      code: 'too-many-notes',
      target: targetWith({ notes: { most: 2 } }),
      source: piece(at([0, 9, 60], [9, 9, 60], [18, 9, 60])),
      measured: 3,
    },
  ],
});
