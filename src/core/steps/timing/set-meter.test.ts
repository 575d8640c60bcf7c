import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { a, score } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('set-meter', [
  {
    name: 'one for all',
    source: song([conductor(90, 3, 4).meter(1440, 7, 8), a]),
    params: { numerator: 4, denominator: 4 },
    expect: (after) => expect(score(after).conductor.meters).toHaveLength(1),
  },
  {
    name: 'bars of one beat',
    source: song([conductor(90, 3, 4), a]),
    params: { numerator: 1, denominator: 4 },
    expect: (after) =>
      expect(score(after).conductor.meters).toMatchObject([{ tick: 0, numerator: 1 }]),
  },
  {
    name: 'only the start',
    source: song([new Track().meter(1920, 7, 8), a]),
    params: { numerator: 4, denominator: 4, keepLater: true },
    expect: (after) =>
      expect(score(after).conductor.meters.map((m) => m.numerator)).toEqual([4, 7]),
  },
]);
