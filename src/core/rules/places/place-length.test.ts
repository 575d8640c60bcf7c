import { bed, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { placeLength } from './place-length';

const crate = builtIn('stomp-crate');

testRule(placeLength, {
  valid: [
    { name: 'sixteen bars of bed 1', target: crate, source: bed(16 * BAR) },
    { name: 'half a bar of break', target: crate, source: bed(BAR / 2, 'k1.mid') },
    { name: 'a hit of one beat', target: crate, source: bed(480, 'hit.mid') },
  ],
  invalid: [
    {
      name: 'seventeen bars',
      code: 'place-length',
      target: crate,
      source: bed(17 * BAR),
      measured: 17,
      lossless: [true],
    },
    {
      name: 'a bar and a tick',
      code: 'place-length',
      target: crate,
      source: bed(BAR + 1),
      lossless: [true, true],
    },
    {
      name: 'a hit of a bar and a tick',
      code: 'place-length',
      target: crate,
      source: bed(BAR + 1, 'hit.mid'),
    },
    {
      name: 'two beats more than a break',
      code: 'place-length',
      target: crate,
      source: bed(2 * BAR, 'k2.mid'),
      measured: 2,
    },
  ],
});
