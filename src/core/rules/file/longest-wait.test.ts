import { testRule } from '../../../../testing/rule-tester';
import { conductor, song, targetWith, Track } from '../../../../testing/score-builder';
import { longestWait } from './longest-wait';

const plain = targetWith({});
/** Two notes with a wait between the end of the first and the second. */
const apart = (wait: number, ppq = 24_000) =>
  song([conductor(), new Track('Line').note(1, 0, 100, 60, 90).note(1, 100 + wait, 100, 62, 90)], {
    ppq,
    endTick: 200 + wait,
  });
const most = 2 ** 28 - 1;
// What conducts waits as long as the piece, so that it is divided in two.
const halved = (wait: number, ppq = 24_000) =>
  song(
    [
      conductor().marker(2 ** 27, 'Middle'),
      new Track('Line').note(1, 0, 100, 60, 90).note(1, 100 + wait, 100, 62, 90),
    ],
    { ppq, endTick: 200 + wait },
  );

testRule(longestWait, {
  valid: [
    { name: 'a short piece', target: plain, source: apart(480, 480) },
    { name: 'the longest wait there is', target: plain, source: halved(most) },
  ],
  invalid: [
    {
      name: 'one tick more',
      code: 'wait-long',
      target: plain,
      source: halved(most + 1),
      measured: most + 1,
      severity: 'stop',
      at: [100],
    },
    {
      name: 'a target that takes multiples of 24',
      code: 'wait-long',
      target: targetWith({ file: { ppq: { multipleOf: 24 } } }),
      source: halved(most + 5000),
    },
  ],
});
