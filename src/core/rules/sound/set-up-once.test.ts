import { barrel } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { Track, song, conductor } from '../../../../testing/score-builder';
import { setUp } from './set-up-once';

const controlled = (...list: [number, number, number][]) => {
  const track = new Track('Brass').note(1, 480, 60, 60, 90);
  for (const [tick, n, value] of list) track.event(tick, 0xb0, 1, n, value);
  return song([conductor(), track], { ppq: 60 });
};

testRule(setUp, {
  valid: [
    { name: 'one of each', target: barrel, source: controlled([0, 7, 1], [0, 10, 2], [0, 93, 3]) },
  ],
  invalid: [
    {
      name: 'no 93',
      code: 'set-up-missing',
      target: barrel,
      source: controlled([0, 7, 100], [0, 10, 64]),
      measured: 1,
      lossless: [true],
    },
    {
      name: '7 twice',
      code: 'set-up-again',
      target: barrel,
      source: controlled([0, 7, 1], [9, 7, 1], [0, 10, 2], [0, 93, 3]),
      measured: 1,
      lossless: [true],
    },
    {
      name: '7 at tick 1',
      code: 'set-up-again',
      target: barrel,
      source: controlled([1, 7, 1], [0, 10, 2], [0, 93, 3]),
      lossless: [true],
    },
  ],
});
