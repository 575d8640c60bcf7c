import { piece, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { silentChannel } from './silent-channel';

testRule(silentChannel, {
  valid: [{ name: 'with a note', target: builtIn('frame-deck'), source: piece(one()) }],
  invalid: [
    {
      name: 'only a controller',
      code: 'silent-channel',
      target: builtIn('frame-deck'),
      source: song([conductor(), one(), new Track('B').event(5, 0xb0, 2, 7, 1)]),
      at: [5],
    },
  ],
});
