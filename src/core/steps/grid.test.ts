import { expect } from 'vitest';
import { song, conductor, Track } from '../../../testing/score-builder';
import { piece, at, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('quantise', [
  {
    name: 'to sixteenths, half the way',
    source: piece(at([10, 60, 60], [131, 60, 60])),
    params: { dividePer: 4, strengthPercent: 50 },
    expect: (r) =>
      expect(notes(r).map((n) => n.slice(0, 2))).toEqual([
        [5, 65],
        [126, 186],
      ]),
  },
  {
    name: 'to rows',
    source: piece(at([122, 60, 60])),
    params: { rowsPerSecond: 8 },
    expect: (r) => expect(notes(r)[0]!.slice(0, 2)).toEqual([120, 180]),
  },
  {
    name: 'chords over parts',
    source: song([conductor(), at([0, 60, 60]), new Track('B').note(2, 9, 60, 64, 9)]),
    params: { chordWithinMs: 30 },
    expect: (r) => expect(notes(r, 1)[0]![0]).toBe(0),
  },
  {
    name: 'the grid begins anew with a bar between quarters',
    source: song([conductor(120, 7, 8), at([1690, 60, 60])]),
    params: { dividePer: 1 },
    expect: (r) => expect(notes(r)[0]![0]).toBe(1680),
  },
  { name: 'no grid', source: piece(at([0, 9, 60])), params: {}, refused: /grid is needed/ },
]);

testStep('add-trigger-keys', [
  {
    name: 'where there is none',
    source: piece(at([0, 60, 60], [0, 60, 64], [480, 60, 60], [480, 60, 64], [480, 60, 24])),
    params: {
      key: 24,
      chordLowest: 48,
      chordHighest: 76,
      triggerLowest: 24,
      triggerHighest: 31,
      leastNotes: 2,
      withinMs: 5,
    },
    effect: { notesAdded: 1 },
  },
]);

testStep('close-gaps', [
  {
    name: 'short ones only',
    source: piece(at([0, 400, 60], [480, 100, 62], [1440, 9, 64])),
    params: { longestMs: 100 },
    effect: { notesChanged: 1 },
    expect: (r) => expect(notes(r)[0]![1]).toBe(480),
  },
]);
