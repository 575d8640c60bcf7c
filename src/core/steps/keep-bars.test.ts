import { expect } from 'vitest';
import { conductor, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';

const BAR = 1920;
const drums = () =>
  new Track('Drums')
    .event(0, 0xb0, 10, 7, 80)
    .note(10, 0, 480, 36, 90)
    .note(10, BAR * 2 - 100, 400, 38, 90)
    .note(10, BAR * 2, 480, 40, 90)
    .note(10, BAR * 3 + 10, 60, 42, 90);

testStep('keep-bars', [
  {
    name: 'keeps the stretch, with what is in force, and cuts what rings on',
    source: song(
      [
        conductor()
          .tempo(BAR, 90)
          .marker(BAR * 2, 'Reel'),
        drums(),
      ],
      {
        endTick: BAR * 4,
      },
    ),
    params: { fromBar: 2, bars: 2 },
    effect: { notesChanged: 2 },
    expect: ({ pieces: [piece] }) => {
      const [part] = piece!.score.parts;
      expect([...part!.notes.start]).toEqual([BAR - 100, BAR]);
      expect(piece!.score.conductor.tempos[0]!.tick).toBe(0);
      expect(piece!.score.conductor.markers.map((m) => m.tick)).toEqual([BAR]);
      expect([...part!.events.data2]).toEqual([80]);
    },
  },
  {
    name: 'a bar that is not there',
    source: song([conductor(), drums()], { endTick: BAR * 4 }),
    params: { fromBar: 9, bars: 2 },
    refused: /no bar 9/,
  },
]);
