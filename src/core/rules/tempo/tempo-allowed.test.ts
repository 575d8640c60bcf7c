import { tempoOnly, piece, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { song, Track, conductor } from '../../../../testing/score-builder';
import { tempoAllowed } from './tempo-allowed';

testRule(tempoAllowed, {
  valid: [
    { name: 'of the list', target: tempoOnly({ onlyBpm: [90, 120] }), source: piece(one()) },
    {
      name: 'floor of 60,000,000/97',
      target: tempoOnly({ wholeBpm: true }),
      source: song([new Track().tempoUs(0, 618_556).meter(0, 4, 4), one()]),
    },
    {
      name: 'nearest to 60,000,000/97',
      target: tempoOnly({ wholeBpm: true }),
      source: song([new Track().tempoUs(0, 618_557).meter(0, 4, 4), one()]),
    },
  ],
  invalid: [
    {
      name: '100 is not listed',
      code: 'tempo-not-listed',
      target: tempoOnly({ onlyBpm: [90, 120] }),
      source: song([conductor(100), one()]),
      measured: 100,
    },
    {
      name: 'one microsecond off 97',
      code: 'tempo-not-whole',
      target: tempoOnly({ wholeBpm: true }),
      source: song([new Track().tempoUs(0, 618_558).meter(0, 4, 4), one()]),
    },
  ],
});
