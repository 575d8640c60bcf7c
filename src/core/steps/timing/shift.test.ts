import { expect } from 'vitest';
import { song, conductor } from '../../../../testing/score-builder';
import { at, notes, two, score } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';
import { mapsOf } from '../../score/inventory';

testStep('shift', [
  {
    name: 'by beats of 6/8',
    source: song([conductor(120, 6, 8), at([0, 9, 60])]),
    params: { beats: 3 },
    expect: (r) => expect(notes(r)[0]![0]).toBe(720),
  },
]);

testStep('shift', [
  {
    name: 'by ms, rounded up',
    source: two,
    params: { ms: 100.1 },
    expect: (after) =>
      expect(mapsOf(score(after)).clock.msAt(notes(after, 0)[0]![0]!)).toBeGreaterThanOrEqual(
        100.1,
      ),
  },
  { name: 'by nothing', source: two, params: {}, refused: /above 0/ },
]);
