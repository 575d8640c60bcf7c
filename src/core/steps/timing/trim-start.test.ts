import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { notes, two } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

const rested = song([conductor(), new Track('A').note(1, 3840, 100, 60, 90)]);

testStep('trim-start', [
  {
    name: 'takes bars away',
    source: rested,
    params: { bars: 2 },
    expect: (after) => expect(notes(after, 0)[0]![0]).toBe(0),
  },
  {
    name: 'not where notes stand',
    source: two,
    params: { bars: 1 },
    refused: /notes in the first/,
  },
]);
