import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { sameKey } from './same-key';

const loft = builtIn('bell-loft');

testRule(sameKey, {
  valid: [
    {
      name: '180 ms apart',
      target: loft,
      source: song([
        conductor(125),
        new Track('B').note(1, 0, 60, 60, 90).note(1, 180, 60, 60, 90),
      ]),
    },
  ],
  invalid: [
    {
      name: 'hammered',
      code: 'same-key-soon',
      target: loft,
      source: song([
        conductor(125),
        new Track('B').note(1, 0, 60, 60, 90).note(1, 100, 60, 60, 99).note(1, 179, 60, 60, 90),
      ]),
      notes: 2,
      measured: 79,
    },
  ],
});
