import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { parts, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';
import { OFF_MISSING } from '../../score/score';

const hung = song(
  [
    conductor(),
    new Track('A').note(1, 0, 480, 60, 9).hang(1, 480, 60, 9).note(1, 2400, 480, 60, 9),
  ],
  { endTick: 9600 },
);

testStep('pair-stuck', [
  {
    name: 'at the usual length',
    source: hung,
    params: { until: 'median' },
    effect: { notesChanged: 1 },
    expect(after) {
      expect([...parts(after)[0]!.notes.offKind]).not.toContain(OFF_MISSING);
      expect(Math.max(...notes(after, 0).map((n) => n[1]!))).toBeLessThan(9600);
    },
  },
]);
