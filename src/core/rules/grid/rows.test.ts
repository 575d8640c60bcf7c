import { piece, at, told } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, targetWith } from '../../../../testing/score-builder';
import { rows } from './rows';

// Grid.
const organ = builtIn('strip-organ');

testRule(rows, {
  valid: [
    {
      name: 'sixteenths at 120 are eight rows a second',
      target: organ,
      source: piece(at([0, 60, 60], [120, 60, 62], [360, 60, 64])),
    },
    {
      name: 'the last row',
      target: targetWith({ grid: { rowsPerSecond: [4], mostRows: 5 } }),
      source: piece(at([0, 60, 60], [960, 60, 62])),
    },
  ],
  invalid: [
    {
      name: 'two ticks off',
      code: 'off-row',
      target: organ,
      source: piece(at([0, 60, 60], [122, 60, 62], [240, 60, 64])),
      measured: 2.083,
      notes: 1,
    },
    {
      name: 'a sixth row',
      code: 'too-many-rows',
      target: targetWith({ grid: { rowsPerSecond: [4], mostRows: 5, rowMm: 8 } }),
      source: piece(at([0, 60, 60], [1200, 60, 62])),
      measured: 6,
    },
    {
      name: 'a rate that is not there',
      code: 'rows-unknown',
      target: organ,
      source: piece(at([0, 60, 60])),
      steps: told({ rowsPerSecond: '5' }),
    },
  ],
});
