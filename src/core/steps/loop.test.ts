import { expect } from 'vitest';
import { song, conductor } from '../../../testing/score-builder';
import { at, BAR, piece } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('loop', [
  {
    name: 'moves the marker',
    source: song([conductor().marker(5, 'ROUND'), at([0, 9, 60])], { endTick: 4 * BAR }),
    params: { label: 'ROUND', bar: 2 },
    expect: (r) =>
      expect(r.pieces[0]!.score.conductor.markers.map((m) => [m.tick, m.text])).toEqual([
        [BAR, 'ROUND'],
      ]),
  },
  {
    name: 'behind the end',
    source: piece(at([0, 9, 60])),
    params: { label: 'ROUND', bar: 9 },
    refused: /no bar 9/,
  },
]);

testStep('state-seam', [
  {
    name: 'says the level again',
    source: piece(at([0, 9, 60]).event(480, 0xb0, 1, 7, 20), BAR),
    params: {},
    effect: { events: 1 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.data2]).toEqual([100, 20]),
  },
  {
    name: 'at the marker where the loop begins, wherever that has gone',
    source: song(
      [
        conductor().marker(BAR, 'ROUND'),
        at([0, 9, 60])
          .event(0, 0xb0, 1, 7, 50)
          .event(BAR + 480, 0xb0, 1, 7, 20),
      ],
      { endTick: 2 * BAR },
    ),
    params: { marker: 'ROUND' },
    effect: { events: 1 },
    expect: (r) => {
      const { tick, data2 } = r.pieces[0]!.score.parts[0]!.events;
      expect([...tick].map((t, i) => [t, data2[i]])).toEqual([
        [0, 50],
        [BAR, 50],
        [BAR + 480, 20],
      ]);
    },
  },
  {
    name: 'a marker that is not there',
    source: piece(at([0, 9, 60]).event(480, 0xb0, 1, 7, 20), BAR),
    params: { marker: 'ROUND' },
    refused: /no marker ROUND/,
  },
]);

testStep('place-marker', [
  {
    name: 'in tick order, in the place of one that stands there',
    source: song([conductor().marker(0, 'Old').marker(BAR, 'Later'), at([0, 9, 60])], {
      endTick: 4 * BAR,
    }),
    params: { label: 'New', bar: 1 },
    expect: (r) =>
      expect(r.pieces[0]!.score.conductor.markers.map((m) => [m.tick, m.text])).toEqual([
        [0, 'New'],
        [BAR, 'Later'],
      ]),
  },
  {
    name: 'on a beat',
    source: piece(at([0, 9, 60]), BAR),
    params: { label: 'Turn', bar: 1, beat: 3 },
    expect: (r) => expect(r.pieces[0]!.score.conductor.markers[0]!.tick).toBe(960),
  },
]);
