import { piece, at, BAR, told } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { soundLeadIn } from './sound-lead-in';

testRule(soundLeadIn, {
  valid: [
    {
      name: 'the sound rings on',
      target: targetWith({ start: { soundToo: true } }),
      source: piece(at([BAR, 480, 60])),
      steps: told({ soundMs: '9000' }),
    },
  ],
  invalid: [
    {
      name: 'the sound ends before the last note: its rest is missing',
      code: 'sound-lead-in',
      target: targetWith({ start: { soundToo: true } }),
      source: piece(at([BAR, 480, 60])),
      steps: told({ soundMs: '500' }),
      measured: 2000,
    },
    {
      name: 'with the sound at hand its rest is put before it',
      code: 'sound-lead-in',
      target: targetWith({ start: { soundToo: true }, outputs: [{ writer: 'sound' }] }),
      source: piece(at([BAR, 480, 60])),
      sound: { ms: 700 },
      measured: 1800,
      lossless: [true],
    },
  ],
});
