import { cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track, targetWith } from '../../../../testing/score-builder';
import { atOnce } from './at-once';

const rail = builtIn('lantern-rail');
const loft = builtIn('bell-loft');
const pair = new Track('Cues').note(16, 0, 960, 40, 90).note(16, 480, 480, 45, 90);
const chord = new Track('Cues').note(16, 0, 480, 40, 90).note(16, 0, 480, 45, 90);
const cluster = new Track('Bells');
for (let i = 0; i < 6; i++) cluster.note(1, 0, 480, 64 + i, 90 + i);

testRule(atOnce, {
  valid: [
    { name: 'end meets start', target: rail, source: song([conductor(), cues(0, 240)]) },
    {
      name: 'four bells',
      target: loft,
      source: song([
        conductor(),
        new Track('B')
          .note(1, 0, 9, 64, 9)
          .note(1, 0, 9, 65, 9)
          .note(1, 0, 9, 66, 9)
          .note(1, 0, 9, 67, 9),
      ]),
    },
  ],
  invalid: [
    {
      name: 'one still sounds',
      code: 'at-once',
      target: rail,
      source: song([conductor(), pair]),
      measured: 2,
      notes: 2,
    },
    {
      name: 'struck together',
      code: 'at-once',
      target: rail,
      source: song([conductor(), chord]),
      measured: 2,
      at: [0],
    },
    {
      name: 'a chord on the second of three seats of one voice',
      code: 'at-once',
      target: targetWith({
        seats: [1, 2, 3].map((n) => ({
          kind: 'channel',
          id: `voice-${n}`,
          name: `Voice ${n}`,
          channel: n,
        })),
        polyphony: { together: 1, over: 'seat' },
      }),
      source: song([conductor(), new Track('Two').note(2, 0, 480, 40, 90).note(2, 0, 480, 45, 90)]),
      steps: [
        {
          step: 'route',
          params: { seat: 'voice-2', channel: 2, track: 'Voice 2' },
        },
      ],
      measured: 2,
      at: [0],
    },
    {
      name: 'two tracks of one channel, where no seat tells them apart',
      code: 'at-once',
      target: targetWith({ seats: [], polyphony: { together: 1, over: 'seat' } }),
      source: song([
        conductor(),
        new Track('High').note(2, 0, 480, 72, 90),
        new Track('Low').note(2, 240, 480, 45, 90),
      ]),
      measured: 2,
      notes: 2,
    },
    {
      name: 'six bells',
      code: 'at-once',
      target: loft,
      source: song([conductor(), cluster]),
      measured: 6,
      notes: 6,
    },
  ],
});
