import { drums, BAR, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { channels } from './channels';

const crate = builtIn('stomp-crate');

testRule(channels, {
  valid: [
    {
      name: 'on 10',
      target: crate,
      source: song([conductor(), drums([0, 36])], { name: 'b1.mid', endTick: BAR }),
    },
  ],
  invalid: [
    {
      name: 'on 9',
      code: 'other-channel',
      target: crate,
      source: song([conductor(), one('Drums', 9)]),
      measured: 9,
      lossless: [true, false],
    },
  ],
});
