import { cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { meterConstant } from './meter-constant';

const rail = builtIn('lantern-rail');

testRule(meterConstant, {
  valid: [{ name: 'one', target: rail, source: song([conductor(), cues(0)]) }],
  invalid: [
    {
      name: 'changes inside a bar',
      code: 'meter-changes',
      target: rail,
      source: song([conductor().meter(1000, 6, 8), cues(0, 960, 4000)]),
      at: [1000],
      measured: 2,
      lossless: [true],
    },
    {
      name: 'behind a bar of set-up all is counted as the music is',
      code: 'meter-changes',
      target: rail,
      source: song([
        new Track('').tempo(0, 120).meter(0, 1, 8).meter(240, 4, 4),
        cues(240, 2160, 4080),
      ]),
      measured: 2,
      lossless: [true],
    },
    {
      name: 'said twice',
      code: 'meter-changes',
      severity: 'caution',
      target: rail,
      source: song([conductor().meter(1920, 4, 4), cues(0)]),
      lossless: [true],
    },
  ],
});
