import { expect } from 'vitest';
import { moving, score, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';
import { mapsOf } from '../../score/inventory';

testStep('one-tempo-holding-clock', [
  {
    name: 'keeps clock times within 1 ms, raising the PPQ',
    source: moving,
    params: { microsecondsPerQuarter: 625000 },
    effect: { notesChanged: 3 },
    expect(after, before) {
      const old = mapsOf(score(before)).clock;
      const { clock } = mapsOf(score(after));
      expect(clock.tempos).toHaveLength(1);
      notes(after, 0).forEach(([start, end], i) => {
        expect(Math.abs(clock.msAt(start!) - old.msAt(notes(before, 0)[i]![0]!))).toBeLessThan(1);
        expect(Math.abs(clock.msAt(end!) - old.msAt(notes(before, 0)[i]![1]!))).toBeLessThan(1);
      });
    },
  },
]);
