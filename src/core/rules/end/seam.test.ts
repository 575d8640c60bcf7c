import { bars, one, piece, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { Track } from '../../../../testing/score-builder';
import { seam } from './seam';

const seamTarget = bars({ loops: true });
const withLevel = (...levels: [number, number][]) => {
  const track = one();
  for (const [tick, value] of levels) track.event(tick, 0xb0, 1, 7, value);
  return piece(track, 2 * BAR);
};

testRule(seam, {
  valid: [
    {
      name: 'the level comes back',
      target: seamTarget,
      source: withLevel([0, 90], [480, 20], [960, 90]),
    },
    {
      name: 'the level is set where the loop begins',
      target: seamTarget,
      source: withLevel([0, 90], [960, 20]),
    },
  ],
  invalid: [
    {
      name: 'a hanging note',
      code: 'seam-hangs',
      target: seamTarget,
      source: piece(new Track('Line').note(1, 0, 480, 60, 90).hang(1, 960, 62, 90), 2 * BAR),
      measured: 1,
      notes: 1,
    },
    {
      name: 'a level that stays down',
      code: 'seam-jumps',
      target: seamTarget,
      source: withLevel([480, 20]),
      measured: 1,
      at: [0, 2 * BAR - 1],
    },
  ],
});
