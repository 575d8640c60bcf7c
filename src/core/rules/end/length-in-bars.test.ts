import { bars, piece, one, BAR, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { song, conductor, Track, targetWith } from '../../../../testing/score-builder';
import { wholeBars } from './length-in-bars';

const fiveEight = (endTick: number, ppq = 25) =>
  song([conductor(120, 5, 8), new Track('A').note(1, 0, 10, 60, 90)], { ppq, endTick });

testRule(wholeBars, {
  valid: [
    {
      name: 'three bars of 5/8 at a PPQ that divides them',
      target: bars({ wholeBars: true }),
      source: fiveEight(375, 50),
    },
    {
      name: 'two bars of 5/8 that end on a tick',
      target: bars({ wholeBars: true }),
      source: fiveEight(125),
    },
    {
      name: 'two bars to the tick',
      target: bars({ onlyBars: [2, 4] }),
      source: piece(one(), 2 * BAR),
    },
    {
      name: 'the longest',
      target: bars({ wholeBars: true, leastBars: 1, mostBars: 3 }),
      source: piece(one(), 3 * BAR),
    },
    {
      name: '7/8 at PPQ 25, a bar of 87.5 ticks',
      target: bars({ onlyBars: [2] }),
      source: song([conductor(120, 7, 8), new Track('A').note(1, 0, 9, 60, 9)], {
        ppq: 25,
        endTick: 175,
      }),
    },
  ],
  invalid: [
    {
      name: 'three bars of 5/8 whose line stands between two ticks',
      code: 'not-whole-bars',
      target: bars({ wholeBars: true }),
      source: fiveEight(188),
      measured: 3.008,
    },
    {
      name: 'the same where no finer PPQ is taken',
      code: 'not-whole-bars',
      target: targetWith({ end: { wholeBars: true }, file: { ppq: { only: [25] } } }),
      source: fiveEight(188),
    },
    {
      name: 'one tick short',
      code: 'not-whole-bars',
      target: bars({ wholeBars: true }),
      source: piece(one(), 2 * BAR - 1),
      measured: 1.999,
      lossless: [true, true],
    },
    {
      name: 'one tick long',
      code: 'not-whole-bars',
      target: bars({ onlyBars: [2, 4] }),
      source: piece(one(), 2 * BAR + 1),
    },
    {
      name: 'three bars where two or four are taken',
      code: 'bars-not-allowed',
      target: bars({ onlyBars: [2, 4] }),
      source: piece(one(), 3 * BAR),
      measured: 3,
      lossless: [true, true],
    },
    {
      name: 'four where three are the most, with a note in the fourth',
      code: 'bars-not-allowed',
      target: bars({ leastBars: 1, mostBars: 3 }),
      source: piece(at([0, 9, 60], [3 * BAR, 9, 62]), 4 * BAR),
      // Stretches that go round first, then what comes first.
      lossless: [false, false, false, false],
    },
    {
      name: 'the same with a sound that goes along: each stretch with its own of the sound, too',
      code: 'bars-not-allowed',
      target: targetWith({ end: { leastBars: 1, mostBars: 3 }, outputs: [{ writer: 'sound' }] }),
      source: piece(at([0, 9, 60], [3 * BAR, 9, 62]), 4 * BAR),
      sound: { ms: 8000 },
      lossless: [false, false, false, false, false, false, false],
    },
  ],
});
