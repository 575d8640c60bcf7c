import { expect } from 'vitest';
import { song, Track } from '../../../../testing/score-builder';
import { score, two } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

const bare = song([new Track('A').note(1, 0, 480, 60, 9)]);

testStep('state-tempo', [
  {
    name: 'writes the default',
    source: bare,
    params: {},
    expect: (after) =>
      expect(score(after).conductor.tempos).toMatchObject([
        { tick: 0, microsecondsPerQuarter: 500000 },
      ]),
  },
  { name: 'is there already', source: two, params: {}, refused: /is written/ },
]);
