import { expect } from 'vitest';
import { song, conductor, Track } from '../../../testing/score-builder';
import { keysOf } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

const phrases = song([
  conductor(),
  new Track('Line')
    .note(1, 0, 400, 60, 90)
    .note(1, 480, 400, 64, 90)
    // Behind a rest, a phrase that lies an octave higher and leaps out of reach.
    .note(1, 1920, 400, 72, 90)
    .note(1, 2400, 400, 80, 90),
]);

testStep('bring-into-reach', [
  {
    name: 'a phrase goes as a whole, and keeps its contour',
    source: phrases,
    params: { lowest: 58, highest: 76 },
    effect: { notesChanged: 2 },
    expect: (after) => expect(keysOf(after)).toEqual([60, 64, 60, 68]),
  },
  {
    name: 'what has no octave there goes to the nearest key, where that is asked',
    source: phrases,
    params: { only: [59, 64], nearest: true },
    effect: { notesChanged: 3 },
    expect: (after) => expect(keysOf(after)).toEqual([59, 64, 64, 64]),
  },
  {
    name: 'nothing has an octave',
    source: phrases,
    params: { only: [61] },
    refused: /has an octave/,
  },
]);
