import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { rowLimits } from './row-limits';

const rowsOf = (block: object) => targetWith({ grid: { rowsPerSecond: [4], ...block } });
const together = (n: number) =>
  at(...Array.from({ length: n }, (_, i): [number, number, number] => [0, 60, 60 + i]));

testRule(rowLimits, {
  valid: [
    { name: 'five in a row', target: rowsOf({ mostInRow: 5 }), source: piece(together(5)) },
    {
      name: 'a row between',
      target: rowsOf({ sameKeyNextRow: 'none' }),
      source: piece(at([0, 60, 60], [480, 60, 60])),
    },
  ],
  invalid: [
    {
      name: 'six in a row',
      code: 'row-crowded',
      target: rowsOf({ mostInRow: 5 }),
      source: piece(together(6)),
      measured: 6,
      notes: 6,
    },
    {
      name: 'in two rows running',
      code: 'row-again',
      target: rowsOf({ sameKeyNextRow: 'none' }),
      source: piece(at([0, 60, 60], [240, 60, 60])),
      notes: 1,
    },
    {
      name: 'twice in one row',
      code: 'row-shared',
      target: rowsOf({}),
      source: piece(at([0, 30, 60], [60, 30, 60])),
      notes: 1,
    },
  ],
});
