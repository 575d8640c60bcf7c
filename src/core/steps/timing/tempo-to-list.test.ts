import { expect } from 'vitest';
import { song, conductor } from '../../../../testing/score-builder';
import { at, piece } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('tempo-to-list', [
  {
    name: 'the nearest',
    source: song([conductor(101), at([0, 9, 60])]),
    params: { bpms: [90, 120] },
    expect: (r) =>
      expect(r.pieces[0]!.score.conductor.tempos[0]!.microsecondsPerQuarter).toBe(666_667),
  },
  { name: 'no list', source: piece(at([0, 9, 60])), params: {}, refused: /list/ },
]);
