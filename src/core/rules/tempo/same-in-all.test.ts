import { drums, BAR, carved } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { sameInAll } from './same-in-all';

const crate = builtIn('stomp-crate');
const twoBeds = carved(['b1', 'b1.mid', 1, 1], ['b2', 'b2.mid', 2, 1]);

testRule(sameInAll, {
  valid: [
    {
      name: 'one for all',
      target: crate,
      source: song([conductor(), drums([0, 36], [BAR, 36])], { endTick: 2 * BAR }),
      steps: twoBeds,
    },
  ],
  invalid: [
    {
      name: 'bed 2 is faster',
      code: 'tempos-differ',
      target: crate,
      source: song([conductor().tempo(BAR, 140), drums([0, 36], [BAR, 36])], { endTick: 2 * BAR }),
      steps: twoBeds,
      measured: 2,
    },
    {
      name: 'most of it runs as bed 2 does, behind a bar of set-up',
      code: 'tempos-differ',
      target: crate,
      source: song([conductor().tempo(BAR, 140), drums([0, 36], [BAR, 36], [4 * BAR, 36])], {
        endTick: 5 * BAR,
      }),
      steps: carved(['b1', 'b1.mid', 1, 1], ['b2', 'b2.mid', 2, 4]),
      measured: 2,
    },
    {
      name: 'what runs beside a recording is held at its clock times',
      code: 'tempos-differ',
      target: builtIn('lantern-rail'),
      source: song([conductor().tempo(BAR, 140), drums([0, 36], [BAR, 36], [BAR + 500, 36])], {
        endTick: 2 * BAR,
      }),
      steps: twoBeds,
      measured: 2,
      lossless: [true, false],
    },
    {
      name: 'most of it is in 3/4',
      code: 'meters-differ',
      target: crate,
      source: song([conductor().meter(BAR, 3, 4), drums([0, 36], [BAR, 36], [BAR + 4320, 36])], {
        endTick: BAR + 5760,
      }),
      steps: carved(['b1', 'b1.mid', 1, 1], ['b2', 'b2.mid', 2, 4]),
      measured: 2,
    },
    {
      name: 'bed 2 is in 3/4',
      code: 'meters-differ',
      target: crate,
      source: song([conductor().meter(BAR, 3, 4), drums([0, 36], [BAR, 36])], {
        endTick: BAR + 1440,
      }),
      steps: twoBeds,
      measured: 2,
    },
  ],
});
