import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { offGrid } from './off-grid';

const played = (by: (i: number) => number, n = 32) =>
  at(...Array.from({ length: n }, (_, i): [number, number, number] => [i * 120 + by(i), 60, 60]));

testRule(offGrid, {
  valid: [
    { name: 'on the grid', target: targetWith({}), source: piece(played(() => 0)) },
    { name: 'few notes', target: targetWith({}), source: piece(played((i) => 3 + (i % 5), 31)) },
  ],
  invalid: [
    {
      name: 'all a little late',
      code: 'off-grid',
      severity: 'caution',
      target: targetWith({}),
      source: piece(played((i) => 3 + (i % 5))),
      notes: 32,
    },
  ],
});
