import { expect } from 'vitest';
import { song, conductor } from '../../../testing/score-builder';
import { at, BAR, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('cut-bars', [
  {
    name: 'the second bar of three; what rings into it ends there, what follows moves up',
    source: song(
      [
        conductor(),
        at([0, 480, 60], [BAR - 100, 400, 61], [BAR + 10, 480, 62], [2 * BAR, 480, 63]),
      ],
      { endTick: 3 * BAR },
    ),
    params: { fromBar: 2, bars: 1 },

    expect: (r) => {
      expect(notes(r).map((n) => [n[0], n[1], n[2]])).toEqual([
        [0, 480, 60],
        [BAR - 100, BAR, 61],
        [BAR, BAR + 480, 63],
      ]);
      expect(r.pieces[0]!.score.tracks[1]!.endTick).toBe(2 * BAR);
    },
  },
  {
    name: 'a bar that is not there is refused',
    source: song([conductor(), at([0, 480, 60])]),
    params: { fromBar: 900, bars: 1 },
    refused: /no bar 900/,
  },
]);
