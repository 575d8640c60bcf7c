import { expect } from 'vitest';
import { META_LYRIC } from '../../../demo/song';
import { song, conductor, Track } from '../../../testing/score-builder';
import { score, parts } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

const texts = song([
  conductor().marker(0, 'Go'),
  new Track('A')
    .note(1, 0, 480, 60, 9)
    .text(0, META_LYRIC, 'la')
    .sysex(0, [1, 0xf7])
    .control(0, 1, 7, 9)
    .control(0, 1, 10, 9),
  new Track('B').note(1, 0, 9, 62, 9),
]);

testStep('strip', [
  {
    name: 'text and markers',
    source: texts,
    params: { kinds: ['text', 'markers'] },
    effect: { events: 2 },
    expect: (after) => expect(score(after).conductor.markers).toEqual([]),
  },
  {
    name: 'one controller',
    source: texts,
    params: { kinds: ['controllers'], controllers: [10] },
    effect: { events: 1 },
    expect: (after) => expect([...parts(after)[0]!.events.data1]).toEqual([7]),
  },
  {
    name: 'names beyond the first',
    source: texts,
    params: { kinds: ['track names'], keepNames: 1 },
    effect: { events: 1 },
  },
]);

testStep('drop-duplicates', [
  {
    name: 'keeps the first of equal values',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 480, 60, 9)
        .note(1, 0, 240, 60, 9)
        .control(0, 1, 7, 9)
        .control(5, 1, 7, 9)
        .control(6, 1, 7, 10)
        .control(7, 1, 7, 9),
    ]),
    params: { notes: true, events: true },
    effect: { notesDropped: 1, events: 1 },
  },
]);
