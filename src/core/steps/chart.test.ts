import { expect } from 'vitest';
import { piece, at, keys, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('reduce-chords', [
  {
    name: 'drop the bottom',
    source: piece(at([0, 9, 60], [0, 9, 64], [0, 9, 67])),
    params: { most: 2, drop: 'bottom' },
    expect: (r) => expect(keys(r)).toEqual([64, 67]),
  },
]);

testStep('hold-rules', [
  {
    name: 'a gap before the next of the lane',
    source: piece(at([0, 480, 60], [480, 60, 60])),
    params: { holdMs: 320, releaseGapMs: 100 },
    expect: (r) => expect(notes(r)[0]![1]).toBe(384),
  },
  {
    name: 'short ones are strikes',
    source: piece(at([0, 100, 60])),
    params: { holdMs: 320, strikeMs: 50 },
    expect: (r) => expect(notes(r)[0]![1]).toBe(48),
  },
]);

testStep('flags', [
  {
    name: 'those of a stretch',
    source: piece(at([0, 9, 60], [480, 9, 61])),
    params: { flag: 'feather' },
    scope: { fromTick: 480 },
    effect: { notesChanged: 1 },
    expect: (r) => expect(r.pieces[0]!.flags![0]!.notes.size).toBe(1),
  },
]);
