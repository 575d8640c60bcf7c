import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { notes, rolled } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('keep-strongest', [
  {
    name: 'doublings go first, then the inside of chords; what stands alone between the beats is the tune',
    source: song([
      conductor(),
      // A chord on the beat with its octave doubled inside, and a soft note off the beat.
      new Track('A')
        .note(1, 0, 400, 48, 90)
        .note(1, 0, 400, 55, 90)
        .note(1, 0, 400, 60, 90)
        .note(1, 0, 400, 67, 90)
        .note(1, 130, 100, 62, 30)
        .note(1, 480, 400, 64, 90),
    ]),
    params: { most: 4 },
    effect: { notesDropped: 2 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => [n[0], n[2]])).toEqual([
        [0, 48],
        [0, 67],
        [130, 62],
        [480, 64],
      ]),
  },
  {
    name: 'where there are no more than may stay nothing changes',
    source: rolled,
    params: { most: 16 },
    expect: (after, before) => expect(after.pieces[0]).toBe(before.pieces[0]),
  },
]);
