import { tempoOnly, piece, one, told } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { song, Track } from '../../../../testing/score-builder';
import { declaredBpm } from './declared-bpm';

testRule(declaredBpm, {
  valid: [
    {
      name: 'within a hundredth',
      target: tempoOnly({ declaredWithinBpm: 0.01 }),
      source: piece(one()),
      steps: told({ bpm: '120.01' }),
    },
  ],
  invalid: [
    {
      name: 'just beyond',
      code: 'declared-differs',
      target: tempoOnly({ declaredWithinBpm: 0.01 }),
      source: piece(one()),
      steps: told({ bpm: '120.011' }),
      measured: 120,
      lossless: [true, true],
    },
    {
      name: 'of two tempos at the start the one in force',
      code: 'declared-differs',
      target: tempoOnly({ declaredWithinBpm: 0.01 }),
      source: song([new Track().tempo(0, 120).tempo(0, 90).meter(0, 4, 4), one()]),
      steps: told({ bpm: '120' }),
      measured: 90,
    },
  ],
});
