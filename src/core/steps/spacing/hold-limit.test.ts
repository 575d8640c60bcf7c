import { expect } from 'vitest';
import { at, keys, notes, piece } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('hold-limit', [
  {
    name: 'what breaks it is left out, as a device passes it over',
    source: piece(at([0, 9, 60], [480, 9, 61], [960, 9, 72], [1440, 9, 62])),
    params: { measure: 'interval', over: 'note', most: 2, by: 'drop' },
    effect: { notesDropped: 1 },
    expect: (after) => expect(keys(after)).toEqual([60, 61, 62]),
  },
  {
    name: 'or given the nearest value',
    source: piece(at([0, 9, 60, 3], [480, 9, 61, 127], [960, 9, 72, 64])),
    params: {
      measure: 'velocity',
      over: 'note',
      least: 20,
      most: 100,
      by: 'nearest',
    },
    effect: { notesChanged: 2 },
    expect: (after) => expect(notes(after).map((n) => n[3])).toEqual([20, 100, 64]),
  },
  {
    name: 'a length is drawn to the nearest of several',
    source: piece(at([0, 100, 60], [960, 900, 61])),
    params: {
      measure: 'length-ms',
      over: 'note',
      oneOf: [125, 500],
      by: 'nearest',
    },
    effect: { notesChanged: 2 },
    expect: (after) => expect(notes(after).map((n) => n[1])).toEqual([120, 1440]),
  },
  {
    name: 'a sum is broken by no note alone',
    source: piece(at([0, 9, 60])),
    params: { measure: 'notes', over: 'bar', least: 4, by: 'drop' },
    refused: /No note alone/,
  },
]);
