import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { firstNote } from './first-note';

const loft = builtIn('bell-loft');

testRule(firstNote, {
  valid: [
    {
      name: 'exactly at 500 ms',
      target: loft,
      source: song([conductor(120), new Track('B').note(1, 480, 100, 60, 90)]),
    },
  ],
  invalid: [
    {
      name: 'at 250 ms',
      code: 'first-note',
      target: loft,
      source: song([conductor(120), new Track('B').note(1, 240, 100, 60, 90)]),
      measured: 250,
      lossless: [true, true],
    },
    {
      name: 'one tick early',
      code: 'first-note',
      target: loft,
      source: song([conductor(120), new Track('B').note(1, 479, 100, 60, 90)]),
      lossless: [true, true],
    },
  ],
});
