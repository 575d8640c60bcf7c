import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { score } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';
import { mapsOf } from '../../score/inventory';

const wavy = conductor(100);
for (let i = 1; i < 40; i++) wavy.tempo(i * 480, 100 + (i % 5));

testStep('thin-tempo', [
  {
    name: 'to ten, the end within a second',
    source: song([wavy, new Track('A').note(1, 0, 19200, 60, 9)]),
    params: { most: 10 },
    expect(after, before) {
      const ends = [after, before].map((r) => mapsOf(score(r)).clock.msAt(19200));
      expect(score(after).conductor.tempos.length).toBeLessThanOrEqual(10);
      expect(Math.abs(ends[0]! - ends[1]!)).toBeLessThan(50);
    },
  },
]);
