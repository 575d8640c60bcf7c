import { drums, told } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { kitKeys } from './kit-keys';

const crate = builtIn('stomp-crate');

testRule(kitKeys, {
  valid: [
    {
      name: 'all in Loft',
      target: crate,
      source: song([conductor(), drums([0, 54], [9, 75])], { name: 'b1.mid' }),
      steps: told({ kit: 'loft' }),
    },
    {
      name: 'all in Quay',
      target: crate,
      source: song([conductor(), drums([0, 35], [9, 56])], { name: 'b1.mid' }),
      steps: told({ kit: 'quay' }),
    },
  ],
  invalid: [
    {
      name: 'a key that no kit has',
      code: 'off-kit',
      target: crate,
      source: song([conductor(), drums([0, 36], [9, 60])], { name: 'b1.mid' }),
      measured: 60,
      notes: 1,
    },
    {
      name: 'a key of the other kit',
      code: 'off-kit',
      target: crate,
      source: song([conductor(), drums([0, 54])], { name: 'b1.mid' }),
      steps: told({ kit: 'quay' }),
      measured: 54,
      lossless: [false, false, false, false],
    },
    {
      name: 'none chosen, and one has them all',
      code: 'kit-open',
      severity: 'caution',
      target: crate,
      source: song([conductor(), drums([0, 54], [9, 75])], { name: 'b1.mid' }),
      lossless: [true],
    },
    {
      name: 'none chosen, and each file fits another kit',
      code: 'off-kit',
      target: crate,
      source: song([conductor(), drums([0, 54], [1920, 54], [1921, 54], [3840, 35])]),
      steps: [
        {
          step: 'carve',
          params: {
            places: [
              { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 2 },
              { place: 'b2', fileName: 'b2.mid', fromBar: 3, bars: 1 },
            ],
          },
        },
      ],
      measured: 35,
      notes: 1,
    },
    {
      name: 'a kit that is not there',
      code: 'kit-unknown',
      target: crate,
      source: song([conductor(), drums([0, 36])]),
      steps: told({ kit: 'barn' }),
    },
  ],
});
