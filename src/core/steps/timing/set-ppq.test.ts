import { expect } from 'vitest';
import { two, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('set-ppq', [
  {
    name: 'doubles every tick',
    source: two,
    params: { ticksPerQuarter: 960 },
    expect: (after) => expect(notes(after, 0)[2]).toEqual([1920, 2880, 67, 70]),
  },
]);
