import { expect } from 'vitest';
import { moving, notes, score } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('one-tempo-holding-bars', [
  {
    name: 'keeps ticks',
    source: moving,
    params: { microsecondsPerQuarter: 500000 },
    expect(after, before) {
      expect(notes(after, 0)).toEqual(notes(before, 0));
      expect(score(after).conductor.tempos.map((t) => t.microsecondsPerQuarter)).toEqual([500000]);
    },
  },
]);
