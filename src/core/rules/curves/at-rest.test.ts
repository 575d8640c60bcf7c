import { testRule } from '../../../../testing/rule-tester';
import { builtIn, conductor, song, Track } from '../../../../testing/score-builder';
import { atRest } from './at-rest';

const gallery = builtIn('lamp-gallery');
const lamp = (...values: number[]) =>
  song([
    conductor(),
    values.reduce((t, v, i) => t.control(480 + i * 960, 14, 20 + (i % 2), v), new Track('Lamps')),
  ]);

testRule(atRest, {
  valid: [{ name: 'dark', target: gallery, source: lamp(90, 80, 0, 0) }],
  invalid: [
    {
      name: 'one is left on',
      code: 'not-at-rest',
      target: gallery,
      source: lamp(90, 80, 0),
      at: [1440],
      measured: 1,
    },
  ],
});
