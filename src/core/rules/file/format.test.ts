import { line, simple } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { format } from './format';

const rail = builtIn('lantern-rail');
const loft = builtIn('bell-loft');

testRule(format, {
  valid: [
    {
      name: 'conductor first',
      target: rail,
      source: song([conductor(), new Track('A').note(16, 0, 400, 40, 90)]),
    },
    {
      name: 'format 0 for the loft',
      target: loft,
      source: song([line(60, 62).tempo(0, 100)], { format: 0 }),
    },
  ],
  invalid: [
    {
      name: 'format 1 for the loft',
      code: 'format',
      target: loft,
      source: simple,
      measured: 1,
      lossless: [true],
    },
    {
      name: 'tempo on the track with notes',
      code: 'conductor-track',
      target: rail,
      source: song([new Track('A').tempo(0, 100).note(16, 0, 400, 40, 90)]),
      lossless: [true],
    },
    {
      name: 'two note tracks for the rail',
      code: 'note-tracks',
      target: rail,
      source: song([
        conductor(),
        new Track('A').note(16, 0, 400, 40, 90),
        new Track('B').note(16, 960, 400, 41, 90),
      ]),
      measured: 2,
      lossless: [true],
    },
  ],
});
