import { expect } from 'vitest';
import { song, conductor, Track } from '../../../testing/score-builder';
import { piece, at, notes, BAR } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('set-program', [
  {
    name: 'one at the start, in the place of all',
    source: song([
      conductor(),
      new Track('A').program(5, 1, 3).event(0, 0xb0, 1, 0, 1).program(9, 1, 4).note(1, 0, 9, 60, 9),
    ]),
    params: { program: 14 },
    effect: { events: 3 },
    expect: (r) => {
      const { events } = r.pieces[0]!.score.parts[0]!;
      expect([events.count, events.tick[0], events.data1[0]]).toEqual([1, 0, 14]);
    },
  },
]);

testStep('set-controller', [
  {
    name: 'keeps the first value',
    source: song([
      conductor(),
      new Track('A').event(5, 0xb0, 1, 7, 33).event(9, 0xb0, 1, 7, 99).note(1, 0, 9, 60, 9),
    ]),
    params: { controller: 7 },
    expect: (r) => {
      const { events } = r.pieces[0]!.score.parts[0]!;
      expect([events.count, events.tick[0], events.data2[0]]).toEqual([1, 0, 33]);
    },
  },
]);

testStep('velocity', [
  {
    name: 'scaled and bounded',
    source: piece(at([0, 9, 60, 100], [9, 9, 60, 10])),
    params: { scalePercent: 150, highest: 120, lowest: 20 },
    expect: (r) => expect(notes(r).map((n) => n[3])).toEqual([120, 20]),
  },
  {
    name: 'all alike',
    source: piece(at([0, 9, 60, 100], [9, 9, 60, 64])),
    params: { all: 64 },
    effect: { notesChanged: 1 },
  },
]);

testStep('gather-set-up', [
  {
    name: 'only what stands before the place',
    source: piece(at([BAR, 9, 60]).event(5, 0xb0, 1, 7, 20).event(BAR, 0xb0, 1, 7, 30)),
    params: { beforeTick: 960 },
    effect: { events: 1 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.tick]).toEqual([0, BAR]),
  },
  {
    name: 'before so many bars or milliseconds, whichever is later',
    source: piece(
      at([2 * BAR, 9, 60])
        .event(BAR + 5, 0xb0, 1, 7, 20)
        .event(9, 0xb0, 1, 10, 3),
    ),
    params: { beforeBars: 1, beforeMs: 3000 },
    effect: { events: 2 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.tick]).toEqual([0, 0]),
  },
  {
    name: 'before the first note, where nothing is said',
    source: piece(at([BAR, 9, 60]).event(BAR - 1, 0xb0, 1, 7, 20)),
    params: {},
    effect: { events: 1 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.tick]).toEqual([0]),
  },
]);
