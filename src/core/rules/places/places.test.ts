import { bed, BAR, drums } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { places } from './places';

const crate = builtIn('stomp-crate');

testRule(places, {
  valid: [
    { name: 'by the name of its file', target: crate, source: bed(BAR, 'B1.mid') },
    {
      name: 'as a step said',
      target: crate,
      source: bed(BAR, 'song.mid'),
      steps: [{ step: 'take-place', params: { place: 'b2', fileName: 'b2.mid' } }],
    },
  ],
  invalid: [
    {
      name: 'a song',
      code: 'no-place',
      target: crate,
      source: bed(BAR, 'song.mid'),
      lossless: [true, true],
    },
    {
      name: 'a long song with markers is carved and not cut',
      code: 'no-place',
      target: crate,
      source: song(
        [
          conductor()
            .marker(0, 'A')
            .marker(12 * BAR, 'B'),
          drums([0, 36], [20 * BAR, 38]),
        ],
        {
          name: 'song.mid',
          endTick: 24 * BAR,
        },
      ),
      // Every note is in one of the files.
      lossless: [true],
    },
  ],
});
