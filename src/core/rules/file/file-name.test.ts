import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, targetWith } from '../../../../testing/score-builder';
import { carved } from '../../../../testing/songs';
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
      name: 'the one name that it lists is taken by another file',
      code: 'file-name',
      target: targetWith({
        naming: { only: ['A.mid'], letters: 'any', longest: 20, ending: '.mid' },
      }),
      source: song([conductor().note(1, 0, 240, 60, 80)], { endTick: 3840 }),
      steps: carved(['a', 'A.mid', 1, 1], ['b', 'b.mid', 2, 1]),
      lossless: [],
    },
    {
      name: 'nothing usable',
      code: 'file-name',
      target: loft,
      source: song([conductor()], { name: '…….mid' }),
    },
  ],
});
