import { piece, one, BAR, told } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { wholeFrames } from './whole-frames';

const frames = targetWith({
  frames: { perSecond: [24, 25], shiftLowest: -600, shiftHighest: 600, endings: ['round-again'] },
});

testRule(wholeFrames, {
  valid: [
    {
      name: 'fifty frames of 25',
      target: frames,
      source: piece(one(), BAR),
      steps: told({ frameRate: '25', ending: 'round-again', frameShift: '600' }),
    },
    { name: 'no choice yet', target: frames, source: piece(one(), BAR + 7) },
  ],
  invalid: [
    {
      name: '30 a second',
      code: 'frame-rate',
      target: frames,
      source: piece(one(), BAR),
      steps: told({ frameRate: '30' }),
      measured: 30,
    },
    {
      name: '601 frames',
      code: 'frame-shift',
      target: frames,
      source: piece(one(), BAR),
      steps: told({ frameShift: '-601' }),
      measured: -601,
    },
    {
      name: 'another ending',
      code: 'ending-unknown',
      target: targetWith({ ...frames, frames: { ...frames.frames, endings: ['rest-at-end'] } }),
      source: piece(one(), BAR),
      steps: told({ ending: 'round-again' }),
    },
    {
      name: '50.026 frames',
      code: 'frames-drift',
      target: frames,
      source: piece(one(), BAR + 1),
      steps: told({ frameRate: '25', ending: 'round-again' }),
      measured: 50.026,
      lossless: [true],
    },
  ],
});
