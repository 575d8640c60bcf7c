import { line, simple } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, targetWith, Track } from '../../../../testing/score-builder';
import { format } from './format';

const rail = builtIn('lantern-rail');
const loft = builtIn('bell-loft');
const threeTracks = song([
  conductor(),
  ...[1, 2, 3].map((c) => new Track('ABC'[c - 1]!).note(c, 480 * c, 400, 60, 90)),
]);

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
    {
      name: 'three note tracks for a device of two, which tells parts by channel',
      code: 'note-tracks',
      target: targetWith({ seats: [], file: { mostNoteTracks: 2 } }),
      source: threeTracks,
      measured: 3,
      lossless: [true],
    },
    {
      name: 'three note tracks for a device of two, which tells parts by track',
      code: 'note-tracks',
      target: targetWith({
        seats: ['A', 'B', 'C'].map((name) => ({
          kind: 'track',
          id: name.toLowerCase(),
          name,
          track: name,
        })),
        file: { mostNoteTracks: 2 },
      }),
      source: threeTracks,
      measured: 3,
      lossless: [],
    },
  ],
});
