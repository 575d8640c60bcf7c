import { expect } from 'vitest';
import { two, parts, score, refA, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

const refB = { source: 'main', track: 'B', channel: 2, occurrence: 0 };

testStep('route', [
  {
    name: 'gives channel and track',
    source: two,
    params: { seat: 'line', channel: 16, track: 'Cue line' },
    scope: { parts: [refB] },
    effect: { notesChanged: 1 },
    expect(after, before) {
      const [first, second] = parts(after);
      expect(first).toBe(parts(before)[0]);
      expect(second).toMatchObject({ channel: 16, seat: 'line', seatChosen: true });
      expect(score(after).tracks[second!.track]!.name).toBe('Cue line');
    },
  },
]);

testStep('leave-out', [
  {
    name: 'whole parts stay to be seen',
    source: two,
    params: {},
    scope: { parts: [refA] },
    effect: { notesDropped: 3 },
    expect(after) {
      expect(parts(after)[0]).toMatchObject({ leftOut: true });
      expect(parts(after)[0]!.notes.count).toBe(3);
      expect(parts(after)[1]!.leftOut).toBe(false);
    },
  },
  {
    name: 'single keys',
    source: two,
    params: { keys: [64] },
    effect: { notesDropped: 1 },
    expect: (after) => expect(notes(after, 0).map((n) => n[2])).toEqual([60, 67]),
  },
  {
    name: 'chosen notes by address',
    source: two,
    params: {},
    scope: { notes: [{ part: refA, startTick: 960, noteNumber: 67, occurrence: 0 }] },
    effect: { notesDropped: 1 },
    expect: (after) => expect(notes(after, 0)).toHaveLength(2),
  },
  {
    name: 'a stretch',
    source: two,
    params: { above: 0 },
    scope: { fromTick: 480, toTick: 960 },
    effect: { notesDropped: 1 },
  },
  {
    name: 'a part that is not there',
    source: two,
    params: {},
    scope: { parts: [{ ...refA, track: 'Z' }] },
    refused: /not in this source/,
  },
]);

testStep('join', [
  {
    name: 'two become one',
    source: two,
    params: {},
    expect(after) {
      expect(parts(after)).toHaveLength(1);
      expect(notes(after, 0).map((n) => n[0])).toEqual([0, 240, 480, 960]);
    },
  },
  { name: 'one alone', source: two, params: {}, scope: { parts: [refA] }, refused: /Two parts/ },
]);

testStep('set-channel', [
  {
    name: 'moves a part',
    source: two,
    params: { channel: 9 },
    scope: { parts: [refA] },
    effect: { notesChanged: 3 },
    expect: (after) => expect(parts(after).map((p) => p.channel)).toEqual([9, 2]),
  },
]);
