import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, conductor, song, Track } from '../../../../testing/score-builder';
import { curveJumps } from './curve-jumps';

const box = builtIn('brine-box');
const turned = (...list: (readonly [tick: number, number: number, value: number])[]) =>
  foot((t) => {
    preset(t, 0, 0);
    for (const [tick, number, value] of list) t.control(tick, 9, number, value);
    return t;
  });
const gallery = builtIn('lamp-gallery');
const lamp = (...values: number[]) =>
  song([
    conductor(),
    values.reduce((t, v, i) => t.control(480 + i * 960, 14, 20, v), new Track('Lamps')),
  ]);

testRule(curveJumps, {
  valid: [
    { name: '24 at once', target: box, source: turned([960, 11, 20], [1920, 11, 44]) },
    { name: 'where it begins', target: box, source: turned([960, 11, 120]) },
    { name: '39 of 127 in a slot of 25 ms', target: gallery, source: lamp(39, 0) },
  ],
  invalid: [
    {
      name: '25 at once',
      code: 'jump',
      severity: 'caution',
      target: box,
      source: turned([960, 11, 20], [1920, 11, 45]),
      at: [1920],
      measured: 25,
    },
    {
      name: 'a lamp that is simply there, and gone',
      code: 'slew',
      severity: 'caution',
      target: gallery,
      source: lamp(127, 87, 0),
      at: [480, 1440, 2400],
      measured: 3,
    },
  ],
});
