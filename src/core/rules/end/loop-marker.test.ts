import { bars, one, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { conductor, song } from '../../../../testing/score-builder';
import { loopMarker } from './loop-marker';

const loops = bars({ loopMarker: 'ROUND', loopWholeBars: true });
const round = (...marks: [number, string][]) => {
  const track = conductor();
  for (const [tick, label] of marks) track.marker(tick, label);
  return song([track, one()], { endTick: 4 * BAR });
};

testRule(loopMarker, {
  valid: [{ name: 'on the second bar', target: loops, source: round([BAR, 'ROUND']) }],
  invalid: [
    { name: 'none', code: 'loop-missing', target: loops, source: round(), lossless: [true] },
    {
      name: 'in other letters',
      code: 'loop-missing',
      target: loops,
      source: round([BAR, 'round']),
    },
    {
      name: 'two',
      code: 'loop-twice',
      target: loops,
      source: round([0, 'ROUND'], [BAR, 'ROUND']),
      measured: 2,
    },
    {
      name: 'one tick behind the bar line',
      code: 'loop-not-bars',
      target: loops,
      source: round([BAR + 1, 'ROUND']),
      lossless: [true],
    },
  ],
});
