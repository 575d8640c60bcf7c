import { testRule } from '../../../../testing/rule-tester';
import {
  targetWith,
  song,
  conductor,
  Track,
  sourceFromBytes,
} from '../../../../testing/score-builder';
import { zeroLength } from './zero-length';

const plain = targetWith({});
/** The builder puts ends first, so that this one is written by hand: on and off at tick 480. */
function zeroLengthSong() {
  const track = [0x83, 0x60, 0x90, 60, 90, 0x00, 0x80, 60, 64, 0x00, 0xff, 0x2f, 0x00];
  const head = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 0x01, 0xe0];
  return sourceFromBytes(
    Uint8Array.from([...head, 0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, track.length, ...track]),
  );
}

testRule(zeroLength, {
  valid: [
    {
      name: 'a tick is a length',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 1, 60, 90)]),
    },
  ],
  invalid: [
    {
      name: 'none at all',
      code: 'zero-length',
      severity: 'caution',
      target: plain,
      source: zeroLengthSong(),
      notes: 1,
      at: [480],
    },
  ],
});
