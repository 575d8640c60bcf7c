import { simple } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor, Track, builtIn } from '../../../../testing/score-builder';
import { seating } from './seating';

const plain = targetWith({});
const bells = new Track('Bells').note(1, 0, 400, 60, 90);
const carrierTarget = builtIn('tempo-carrier');

const hands = ['Left', 'Right'].map((name) => ({
  kind: 'track',
  id: name.toLowerCase(),
  name,
  track: name,
}));
const toHand = (seat: string, channel: number) => ({
  step: 'route',
  params: { seat: seat.toLowerCase(), track: seat },
  scope: { parts: [{ source: 'main', track: 'Both', channel, occurrence: 0 }] },
});

testRule(seating, {
  valid: [
    { name: 'on the seat', target: plain, source: song([conductor(), bells]) },
    {
      name: 'lanes on a track without a name',
      target: targetWith({
        seats: [
          { kind: 'laneGroup', id: 'a', name: 'A', channel: 1, track: 'Chanter', laneNotes: [60] },
        ],
      }),
      source: song([conductor(), new Track().note(1, 0, 400, 60, 90)]),
    },
    {
      name: 'the only part, by name',
      target: plain,
      source: song([conductor(), new Track('one').note(1, 0, 9, 60, 9)]),
    },
  ],
  invalid: [
    {
      name: 'two parts, one elsewhere',
      code: 'unseated',
      target: plain,
      source: song([conductor(), bells, new Track('Other').note(4, 480, 100, 61, 90)]),
      at: [0, 480],
      notes: 2,
      lossless: [false, false],
    },
    {
      name: 'the only part is on another channel',
      code: 'wrong-channel',
      target: plain,
      source: song([conductor(), new Track('Solo').note(7, 0, 100, 61, 90)]),
      measured: 7,
      lossless: [true],
    },
    {
      name: 'on a track of another name',
      code: 'wrong-track',
      target: targetWith({ seats: [{ kind: 'track', id: 'left', name: 'Left', track: 'Left' }] }),
      source: song([conductor(), new Track('left').note(1, 0, 100, 61, 90)]),
      lossless: [true],
    },
    {
      name: 'two seats that are tracks, in a file of one',
      code: 'one-track',
      target: targetWith({ seats: hands, file: { formats: [0, 1] } }),
      source: song([new Track('Both').note(1, 0, 9, 48, 9).note(2, 0, 9, 72, 9)], { format: 0 }),
      steps: [toHand('Left', 1), toHand('Right', 2)],
      lossless: [true],
    },
    {
      name: 'a seat that nobody takes',
      code: 'empty-seat',
      severity: 'caution',
      target: targetWith({
        seats: [
          { kind: 'channel', id: 'one', name: 'One', channel: 1 },
          { kind: 'channel', id: 'two', name: 'Two', channel: 2 },
        ],
      }),
      source: song([conductor(), bells]),
    },
    {
      name: 'every part of a tempo carrier',
      code: 'left-out',
      severity: 'remark',
      target: carrierTarget,
      source: simple,
    },
  ],
});
