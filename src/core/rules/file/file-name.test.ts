import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { fileName } from './file-name';

const loft = builtIn('bell-loft');

testRule(fileName, {
  valid: [
    { name: 'eight capitals', target: loft, source: song([conductor()], { name: 'BELLS12.mid' }) },
  ],
  invalid: [
    {
      name: 'long and spaced',
      code: 'file-name',
      target: loft,
      source: song([conductor()], { name: 'my bells (2).midi' }),
      lossless: [true],
    },
    {
      name: 'nothing usable',
      code: 'file-name',
      target: loft,
      source: song([conductor()], { name: '…….mid' }),
    },
  ],
});
