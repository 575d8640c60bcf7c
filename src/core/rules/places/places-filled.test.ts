import { bed, BAR, carved } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { placesFilled } from './places-filled';

const crate = builtIn('stomp-crate');

testRule(placesFilled, {
  valid: [{ name: 'bed 1 is there', target: crate, source: bed(BAR) }],
  invalid: [
    { name: 'only a hit', code: 'place-missing', target: crate, source: bed(BAR, 'hit.mid') },
    {
      name: 'bed 1 twice',
      code: 'place-twice',
      target: crate,
      source: bed(2 * BAR),
      steps: carved(['b1', 'b1.mid', 1, 1], ['b1', 'other.mid', 2, 1]),
      measured: 2,
      lossless: [true],
    },
    {
      name: 'bed 1 twice under one name',
      code: 'place-twice',
      target: crate,
      source: bed(2 * BAR),
      steps: [
        ...carved(['b1', 'b1.mid', 1, 1], ['b2', 'b2.mid', 2, 1]),
        { step: 'take-place', params: { place: 'b1', fileName: 'b1.mid' } },
      ],
      measured: 2,
      lossless: [],
    },
  ],
});
