import { expect } from 'vitest';
import { piece, at, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('move-notes', [
  {
    name: 'later and higher',
    source: piece(at([0, 9, 60])),
    params: { ticks: 100, semitones: 2, velocity: 5 },
    expect: (r) => expect(notes(r)).toEqual([[100, 109, 62, 5]]),
  },
  {
    name: 'before the start',
    source: piece(at([0, 9, 60])),
    params: { ticks: -1 },
    refused: /before its start/,
  },
  {
    name: 'above 127',
    source: piece(at([0, 9, 127])),
    params: { semitones: 1 },
    refused: /0 to 127/,
  },
]);

testStep('add-note', [
  {
    name: 'in its place',
    source: piece(at([480, 9, 60])),
    params: { tick: 0, lengthTicks: 10, noteNumber: 61, velocity: 70 },
    effect: { notesAdded: 1 },
    expect: (r) => {
      expect(notes(r)[0]).toEqual([0, 10, 61, 70]);
      const { id, origin } = r.pieces[0]!.score.parts[0]!.notes;
      expect([new Set(id).size, origin[0]]).toEqual([2, 0]);
    },
  },
]);

testStep('delete-notes', [
  {
    name: 'those of a stretch',
    source: piece(at([0, 9, 60], [480, 9, 61])),
    params: {},
    scope: { fromTick: 480 },
    effect: { notesDropped: 1 },
  },
]);
