import { expect } from 'vitest';
import { piece, at, keys, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('map-keys', [
  {
    name: 'only those named',
    source: piece(at([0, 9, 35], [9, 9, 36], [18, 9, 38])),
    params: {
      keys: [
        { from: 35, to: 36 },
        { from: 36, to: 40 },
      ],
    },
    effect: { notesChanged: 2 },
    expect: (r) => expect(keys(r)).toEqual([36, 40, 38]),
  },
]);

testStep('replace-by-pattern', [
  {
    name: 'again and again while the note sounds, cut at its end',
    source: piece(at([0, 1200, 90], [1920, 100, 60])),
    params: {
      noteNumber: 90,
      everyBeats: 1,
      pattern: [
        { beat: 0, lengthBeats: 0.25, noteNumber: 36, velocity: 100 },
        { beat: 0.5, lengthBeats: 1, noteNumber: 38, velocity: 70 },
      ],
    },
    effect: { notesDropped: 1, notesAdded: 5 },
    expect: (r) =>
      expect(notes(r)).toEqual([
        [0, 120, 36, 100],
        [240, 720, 38, 70],
        [480, 600, 36, 100],
        [720, 1200, 38, 70],
        [960, 1080, 36, 100],
        [1920, 2020, 60, 90],
      ]),
  },
]);

testStep('lanes', [
  {
    name: 'by keys, evenly',
    source: piece(at([0, 9, 50], [9, 9, 60], [18, 9, 70])),
    params: { lanes: [1, 2, 3, 4, 5], by: 'keys' },
    expect: (r) => expect(keys(r)).toEqual([1, 3, 5]),
  },
  {
    name: 'by contour: a step is one lane, a leap two, the edge turns it round',
    source: piece(at([0, 9, 60], [9, 9, 62], [18, 9, 72], [27, 9, 71])),
    params: { lanes: [1, 2, 3, 4, 5], by: 'contour' },
    expect: (r) => expect(keys(r)).toEqual([3, 4, 2, 1]),
  },
  {
    name: 'a shuffle of a seed is the same everywhere',
    source: piece(at([0, 9, 60], [9, 9, 62], [18, 9, 72], [27, 9, 71])),
    params: { lanes: [1, 2, 3, 4, 5], by: 'shuffle', seed: 7 },
    expect: (r) => expect(keys(r)).toEqual([4, 1, 3, 1]),
  },
  {
    name: 'a chord takes lanes of its own',
    source: piece(at([0, 9, 60], [0, 9, 60])),
    params: { lanes: [1, 2], by: 'keys' },
    expect: (r) => expect(keys(r)).toEqual([1, 2]),
  },
]);
