import { bars, one, BAR, piece } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { tracksEqual } from './tracks-equal';

const twoTracks = (first: number, second: number) => {
  const b = new Track('B').note(1, 0, second, 62, 90);
  return song([conductor(), new Track('A').note(1, 0, first, 60, 90), b]);
};

testRule(tracksEqual, {
  valid: [
    {
      name: 'both at one tick',
      target: bars({ tracksEqual: true }),
      source: song([conductor(), one('A'), one('B')], { endTick: BAR }),
    },
    {
      name: 'one track, which gets a conductor track beside it',
      target: bars({ tracksEqual: true }),
      source: song([one('A')], { format: 0, endTick: BAR }),
      steps: [{ step: 'set-format', params: { format: 1, layout: 'conductor-first' } }],
    },
  ],
  invalid: [
    {
      name: 'one tick apart',
      code: 'tracks-unequal',
      target: bars({ tracksEqual: true }),
      source: twoTracks(480, 481),
      lossless: [true],
    },
    {
      name: 'a note lengthened past the end',
      code: 'past-end',
      target: bars({ nothingPast: true }),
      source: piece(one(), 480),
      steps: [{ step: 'move-notes', params: { lengthTicks: 481 } }],
      measured: 1,
    },
  ],
});
