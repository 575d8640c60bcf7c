import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { keysOf } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('fit-voices', [
  {
    name: 'what rings longest ends where the next begins; no note is lost',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 960, 60, 90).note(1, 240, 960, 64, 90).note(1, 480, 960, 67, 90),
    ]),
    params: { voices: 2, over: 'seat' },
    effect: { notesDropped: 0, notesChanged: 1 },
    expect(after) {
      const { notes } = after.pieces[0]!.score.parts.find((p) => p.notes.count > 0)!;
      expect(Array.from(notes.end)).toEqual([480, 1200, 1440]);
    },
  },
  {
    name: 'what ends where the next begins takes no voice from what rings on',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 960, 60, 90).note(1, 240, 240, 64, 90).note(1, 480, 480, 67, 90),
    ]),
    params: { voices: 2, over: 'seat' },
    effect: { notesDropped: 0, notesChanged: 0 },
    expect(after) {
      const { notes } = after.pieces[0]!.score.parts.find((p) => p.notes.count > 0)!;
      expect(Array.from(notes.end)).toEqual([960, 480, 960]);
    },
  },
  {
    name: 'of a chord that is too large the doubling goes first, top and bottom stay',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 480, 48, 90)
        .note(1, 0, 480, 55, 60)
        .note(1, 0, 480, 60, 99)
        .note(1, 0, 480, 64, 90),
    ]),
    params: { voices: 3, over: 'all' },
    effect: { notesDropped: 1 },
    expect: (after) => expect(keysOf(after).sort()).toEqual([48, 55, 64]),
  },
]);
