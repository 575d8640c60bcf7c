import { expect } from 'vitest';
import { song, conductor } from '../../../testing/score-builder';
import { at, BAR, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('repeat', [
  {
    name: 'a bar twice more; what follows moves',
    source: song([conductor(), at([0, 480, 60], [BAR - 10, 50, 61], [BAR, 480, 62])], {
      endTick: 2 * BAR,
    }),
    params: { fromBar: 1, bars: 1, times: 2 },
    effect: { notesAdded: 4 },
    expect: (r) => {
      expect(notes(r).map((n) => [n[0], n[2]])).toEqual([
        [0, 60],
        [BAR - 10, 61],
        [BAR, 60],
        [2 * BAR - 10, 61],
        [2 * BAR, 60],
        [3 * BAR - 10, 61],
        [3 * BAR, 62],
      ]);
      const part = r.pieces[0]!.score.parts[0]!;
      expect(new Set(part.notes.id).size).toBe(7);
      expect(new Set(part.notes.origin).size).toBe(3);
      expect(r.pieces[0]!.score.tracks[1]!.endTick).toBe(4 * BAR);
    },
  },
]);
