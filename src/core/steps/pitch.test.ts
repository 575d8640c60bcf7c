import { expect } from 'vitest';
import { two, refA, notes, parts } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('transpose', [
  {
    name: 'only what is chosen',
    source: two,
    params: { semitones: 12 },
    scope: { parts: [refA], fromTick: 480 },
    effect: { notesChanged: 2 },
    expect(after, before) {
      expect(notes(after, 0).map((n) => n[2])).toEqual([60, 76, 79]);
      expect(parts(after)[1]!.notes).toBe(parts(before)[1]!.notes);
    },
  },
  { name: 'out of 127', source: two, params: { semitones: 100 }, refused: /0 to 127/ },
]);

testStep('fold-octaves', [
  {
    name: 'each to the nearest octave that is allowed',
    source: two,
    params: { lowest: 60, highest: 76 },
    effect: { notesChanged: 1 },
    expect: (after) => expect(notes(after, 1)[0]![2]).toBe(64),
  },
  {
    name: 'where none has an octave in reach',
    source: two,
    params: { only: [61] },
    refused: /has an octave/,
  },
]);
