import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { noteRange } from './note-range';

const loft = builtIn('bell-loft');

testRule(noteRange, {
  valid: [{ name: 'in reach', target: loft, source: simple }],
  invalid: [
    {
      name: 'an octave too low',
      code: 'out-of-range',
      target: loft,
      source: song([conductor(), line(52, 53, 55)]),
      notes: 3,
      measured: 52,
      lossless: [false, false, false, false, false, false],
    },
    {
      name: 'two keys that are not there',
      code: 'not-there',
      target: loft,
      source: song([conductor(), line(60, 61, 63)]),
      notes: 2,
      at: [480, 960],
    },
  ],
});
