import { expect } from 'vitest';
import { piece, at, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('keep-reach', [
  {
    name: 'the lowest first',
    source: piece(at([0, 480, 40], [0, 480, 60], [240, 480, 58])),
    params: { semitones: 16, keep: 'lowest' },
    expect: (r) =>
      expect(notes(r)).toEqual([
        [0, 240, 40, 90],
        [240, 720, 58, 90],
      ]),
  },
]);
