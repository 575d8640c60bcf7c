import { testRule } from '../../../../testing/rule-tester';
import { builtIn, Track, song, conductor } from '../../../../testing/score-builder';
import { hands } from './hands';

const scroll = builtIn('two-hand-scroll');
const twoHands = (left: [number, number, number][], right: [number, number, number][]) => {
  const make = (name: string, channel: number, list: [number, number, number][]) => {
    const track = new Track(name);
    for (const [start, length, key] of list) track.note(channel, start, length, key, 90);
    return track;
  };
  return song([conductor(), make('Left', 1, left), make('Right', 2, right)]);
};

testRule(hands, {
  valid: [
    {
      name: 'sixteen semitones',
      target: scroll,
      source: twoHands(
        [
          [0, 480, 40],
          [0, 480, 56],
        ],
        [[0, 480, 60]],
      ),
    },
    {
      name: 'the same key, one behind the other',
      target: scroll,
      source: twoHands([[0, 480, 60]], [[480, 480, 60]]),
    },
  ],
  invalid: [
    {
      name: 'seventeen',
      code: 'too-wide',
      target: scroll,
      source: twoHands(
        [
          [0, 480, 40],
          [0, 480, 57],
        ],
        [[0, 480, 70]],
      ),
      measured: 17,
      notes: 2,
    },
    {
      name: 'reached while the first still sounds',
      code: 'too-wide',
      target: scroll,
      source: twoHands(
        [
          [0, 480, 40],
          [240, 480, 60],
        ],
        [[0, 480, 70]],
      ),
      measured: 20,
    },
    {
      name: 'the same key one tick too early',
      code: 'shared-key',
      target: scroll,
      source: twoHands([[0, 480, 60]], [[479, 480, 60]]),
      notes: 1,
    },
  ],
});
