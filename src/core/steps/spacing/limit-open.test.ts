import { expect } from 'vitest';
import { piece, at, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('limit-open', [
  {
    name: 'in any stretch',
    source: piece(at([0, 600, 60], [600, 600, 62], [1200, 600, 64])),
    params: { mostOpenMs: 1200, inMs: 2000 },
    expect: (r) => {
      const open = notes(r).reduce((n, [s, e]) => n + e! - s!, 0);
      expect(open).toBeLessThanOrEqual(1152);
    },
  },
]);
