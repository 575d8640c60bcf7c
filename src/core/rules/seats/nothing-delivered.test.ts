import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, builtIn, song, conductor } from '../../../../testing/score-builder';
import { nothingDelivered } from './nothing-delivered';

const plain = targetWith({});
const carrierTarget = builtIn('tempo-carrier');

testRule(nothingDelivered, {
  valid: [
    { name: 'something plays', target: plain, source: simple },
    { name: 'a target without seats', target: carrierTarget, source: song([conductor()]) },
  ],
  invalid: [
    {
      name: 'a source without a note',
      code: 'no-notes',
      target: plain,
      source: song([conductor()]),
      measured: 0,
    },
    {
      name: 'everything left out',
      code: 'no-notes',
      target: plain,
      source: simple,
      steps: [{ step: 'leave-out', params: {} }],
      measured: 0,
    },
    {
      name: 'a song without drums, for what plays drums alone',
      code: 'no-drums',
      target: builtIn('stomp-crate'),
      source: song([conductor(), line(60, 62)]),
      measured: 0,
      lossless: [false],
    },
    {
      name: 'one of two files',
      code: 'file-empty',
      severity: 'caution',
      target: plain,
      source: song([conductor(), line(60, 62)], { endTick: 8 * 1920 }),
      steps: [
        {
          step: 'carve',
          params: {
            places: [
              { place: 'a', fileName: 'a.mid', fromBar: 1, bars: 1 },
              { place: 'b', fileName: 'b.mid', fromBar: 4, bars: 1 },
            ],
          },
        },
      ],
    },
  ],
});
