import { expect } from 'vitest';
import { moving, score } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('clamp-tempo', [
  {
    name: 'to the limits',
    source: moving,
    params: { lowestBpm: 100, highestBpm: 110 },
    effect: { events: 3 },
    expect: (after) =>
      expect(score(after).conductor.tempos.map((t) => t.microsecondsPerQuarter)).toEqual([
        600000, 545455, 600000,
      ]),
  },
]);
