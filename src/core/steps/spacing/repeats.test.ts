import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { rolled, notes, fast } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('repeats-elsewhere', [
  {
    name: 'each second one an octave higher, and back where it is free again',
    source: rolled,
    params: { apartMs: 200, by: 'octave', keys: [60, 62, 72] },
    effect: { notesChanged: 8 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => n[2])).toEqual(
        Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? 60 : 72)),
      ),
  },
  {
    name: 'not where that key is struck or held',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 60, 60, 80)
        .note(1, 120, 60, 60, 80)
        .note(1, 200, 60, 72, 80)
        .note(1, 1900, 300, 72, 80)
        .note(1, 1920, 60, 60, 80)
        .note(1, 2040, 60, 60, 80),
    ]),
    params: { apartMs: 200, by: 'octave', keys: [60, 72] },
    refused: /No other key is free/,
  },
  {
    name: 'to the nearest lane, by rows',
    source: rolled,
    params: { rowsPerSecond: 8, apartRows: 2, by: 'nearest', keys: [55, 60, 64] },
    effect: { notesChanged: 8 },
    expect: (after) => expect(new Set(notes(after, 0).map((n) => n[2]))).toEqual(new Set([60, 64])),
  },
  {
    name: 'without a distance',
    source: rolled,
    params: { by: 'octave', keys: [60] },
    refused: /needed/,
  },
]);

testStep('one-long-note', [
  {
    name: 'a roll becomes one note as long as it lasts',
    source: rolled,
    params: { apartMs: 200 },
    effect: { notesChanged: 1, notesDropped: 15 },
    expect: (after) => expect(notes(after, 0)).toEqual([[0, 1860, 60, 80]]),
  },
  {
    name: 'what is far enough stays by itself',
    source: fast,
    params: { apartMs: 80 },
    effect: { notesChanged: 0, notesDropped: 0 },
  },
  { name: 'without a distance', source: rolled, params: {}, refused: /needed/ },
]);
