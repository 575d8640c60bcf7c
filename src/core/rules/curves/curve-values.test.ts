import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, conductor, song, targetWith, Track } from '../../../../testing/score-builder';
import { curveRange } from './curve-values';

const box = builtIn('brine-box');
const turned = (...list: (readonly [tick: number, number: number, value: number])[]) =>
  foot((t) => {
    preset(t, 0, 0);
    for (const [tick, number, value] of list) t.control(tick, 9, number, value);
    return t;
  });
const bends = targetWith({
  curves: { list: [{ name: 'Sweep', bend: true, lowest: 4096, highest: 12_288 }] },
});

testRule(curveRange, {
  valid: [
    {
      name: 'on and off',
      target: box,
      source: turned([960, 80, 127], [1920, 80, 0], [960, 93, 5]),
    },
  ],
  invalid: [
    {
      name: 'half on',
      code: 'value-unknown',
      target: box,
      source: turned([960, 80, 64], [1200, 81, 127], [1920, 80, 1]),
      at: [960, 1920],
      measured: 2,
      lossless: [false],
    },
    {
      name: 'a delay that is not there',
      code: 'value-beyond',
      target: box,
      source: turned([960, 93, 6]),
      at: [960],
      measured: 1,
    },
    {
      name: 'a bend too far',
      code: 'value-beyond',
      target: bends,
      source: song([
        conductor(),
        new Track('One')
          .event(0, 0xe0, 1, 0, 32)
          .event(480, 0xe0, 1, 1, 96)
          .event(960, 0xe0, 1, 0, 96),
      ]),
      at: [480],
    },
  ],
});
