import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { takesNoNotes } from './no-notes';

const box = builtIn('brine-box');

testRule(takesNoNotes, {
  valid: [{ name: 'presets alone', target: box, source: foot((t) => preset(t, 0, 0)) }],
  invalid: [
    {
      name: 'two notes beside them',
      code: 'notes-taken',
      target: box,
      source: foot((t) => preset(t, 0, 0).note(9, 960, 240, 60, 90).note(9, 1920, 240, 62, 90)),
      at: [960, 1920],
      notes: 2,
      measured: 2,
      lossless: [false],
    },
  ],
});
