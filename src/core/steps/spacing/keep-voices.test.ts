import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { thick, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('keep-voices', [
  {
    name: 'the highest',
    source: thick,
    params: { voices: 1, keep: 'highest', over: 'seat' },
    // What sounded before ends where the higher one begins; of two struck together one goes.
    effect: { notesDropped: 1, notesChanged: 1 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => n.slice(0, 3))).toEqual([
        [0, 480, 64],
        [480, 1440, 67],
      ]),
  },
  {
    name: 'a higher note cuts a held one and does not take its place in time',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 960, 60, 90).note(1, 120, 60, 50, 90).note(1, 900, 100, 70, 90),
    ]),
    params: { voices: 1, keep: 'highest', over: 'seat' },
    effect: { notesDropped: 1, notesChanged: 1 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => n.slice(0, 3))).toEqual([
        [0, 900, 60],
        [900, 1000, 70],
      ]),
  },
  {
    name: 'the newest cuts what sounds',
    source: thick,
    params: { voices: 1, keep: 'newest', over: 'all' },
    expect: (after) =>
      expect(notes(after, 0)).toEqual([
        [0, 480, 64, 90],
        [480, 1440, 67, 60],
      ]),
  },
]);
