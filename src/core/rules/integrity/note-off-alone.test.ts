import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor } from '../../../../testing/score-builder';
import { strayOff } from './note-off-alone';

const plain = targetWith({});

testRule(strayOff, {
  valid: [{ name: 'none', target: plain, source: simple }],
  invalid: [
    {
      name: 'one too many',
      code: 'stray-off',
      severity: 'caution',
      target: plain,
      source: song([conductor(), line(60).off(1, 900, 72)]),
      at: [900],
      lossless: [true],
    },
  ],
});
