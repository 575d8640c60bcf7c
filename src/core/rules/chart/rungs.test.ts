import { ladder, piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { rungDensity } from './rungs';

testRule(rungDensity, {
  valid: [
    {
      name: 'two in a second',
      target: ladder,
      source: piece(at([0, 60, 24], [480, 60, 26], [960, 60, 24])),
    },
    {
      name: 'three together on rung 5',
      target: ladder,
      source: piece(at([0, 60, 72], [0, 60, 74], [0, 60, 76])),
    },
  ],
  invalid: [
    {
      name: 'three in a second',
      code: 'rung-dense',
      target: ladder,
      source: piece(at([0, 60, 24], [480, 60, 26], [959, 60, 24])),
      measured: 3,
    },
    {
      name: 'two together on rung 1',
      code: 'lanes-together',
      target: ladder,
      source: piece(at([0, 60, 24], [0, 60, 26])),
      measured: 2,
      notes: 2,
    },
    {
      name: 'one still held',
      code: 'lanes-together',
      target: ladder,
      source: piece(at([0, 600, 24], [599, 60, 26])),
      measured: 2,
    },
  ],
});
