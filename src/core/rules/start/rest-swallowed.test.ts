import { piece, one, BAR, told, at, loose, looseMs } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song } from '../../../../testing/score-builder';
import { restSwallowed } from './rest-swallowed';

testRule(restSwallowed, {
  valid: [
    {
      name: 'as long as the sound',
      target: targetWith({}),
      source: piece(one(), BAR),
      steps: told({ soundMs: '2000' }),
    },
    {
      name: 'the rest is there',
      target: targetWith({}),
      source: piece(at([BAR, 480, 60]), 2 * BAR),
      steps: told({ soundMs: '6000' }),
    },
    {
      name: 'a difference that is no bar',
      target: targetWith({}),
      source: piece(one(), BAR),
      steps: told({ soundMs: '3000' }),
    },
  ],
  invalid: [
    {
      name: 'two bars shorter than the sound',
      code: 'rest-swallowed',
      severity: 'caution',
      target: targetWith({}),
      source: piece(one(), BAR),
      steps: told({ soundMs: '6000' }),
      measured: 4000,
      lossless: [true],
    },
    {
      name: 'two bars that the recording has',
      code: 'rest-swallowed-heard',
      severity: 'caution',
      target: targetWith({}),
      source: song(loose),
      sound: { ms: 12_000, onsets: looseMs.map((ms) => ms + 4003) },
      measured: 4003,
      lossless: [true],
    },
  ],
});
