import { piece, one, BAR, told } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, targetWith } from '../../../../testing/score-builder';
import { soundLength } from './sound-length';

const fog = builtIn('fog-pier');

testRule(soundLength, {
  valid: [
    {
      name: '20 ms longer',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '1980' }),
    },
    {
      name: '20 ms shorter',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '2020' }),
    },
  ],
  invalid: [
    {
      name: '21 ms longer',
      code: 'sound-length',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '1979' }),
      measured: 21,
      lossless: [true],
    },
    {
      name: '21 ms shorter',
      code: 'sound-length',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '2021' }),
      measured: -21,
      lossless: [true],
    },
    {
      name: 'with the sound at hand either can end with the other',
      code: 'sound-length',
      target: targetWith({ end: { soundWithinMs: 20 }, outputs: [{ writer: 'sound' }] }),
      source: piece(one(), BAR),
      sound: { ms: 2500 },
      measured: -500,
      lossless: [true, true],
    },
  ],
});
