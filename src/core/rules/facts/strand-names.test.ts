import { piece, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor } from '../../../../testing/score-builder';
import { strandNames } from './strand-names';

const ledger = targetWith({
  seats: [],
  seating: { unseated: 'taken' },
  strands: { values: ['none'], names: ['Line'] },
});

testRule(strandNames, {
  valid: [{ name: 'listened for', target: ledger, source: piece(one()) }],
  invalid: [
    { name: 'another name', code: 'strand-unknown', target: ledger, source: piece(one('Gulls')) },
    {
      name: 'twice',
      code: 'strand-twice',
      target: ledger,
      source: song([conductor(), one(), one()]),
      measured: 2,
    },
  ],
});
