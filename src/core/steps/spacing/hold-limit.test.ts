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
    name: 'a start goes to the nearest place of the beat, in the next one where that is nearer',
    source: piece(at([10, 100, 60], [250, 100, 61], [470, 100, 62], [725, 100, 63])),
    params: { measure: 'place-in-beat', over: 'note', multipleOf: 0.5, by: 'nearest' },
    effect: { notesChanged: 4 },
    expect: (after) =>
      expect(notes(after).map((n) => n.slice(0, 2))).toEqual([
        [0, 100],
        [240, 340],
        [480, 580],
        [720, 820],
      ]),
  },
  {
    name: 'a place in the bar may be nearest in the bar before',
    source: piece(at([1930, 100, 60], [2400, 100, 61])),
    params: { measure: 'place-in-bar', over: 'note', oneOf: [1, 3.5], by: 'nearest' },
    effect: { notesChanged: 1 },
    expect: (after) => expect(notes(after).map((n) => n[0])).toEqual([1680, 2400]),
  },
  {
    name: 'a sum is broken by no note alone',
    source: piece(at([0, 9, 60])),
    params: { measure: 'notes', over: 'bar', least: 4, by: 'drop' },
    refused: /No note alone/,
  },
]);
