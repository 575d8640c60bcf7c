import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, conductor, song, Track } from '../../../../testing/score-builder';
import { curveRate } from './curve-rate';

const box = builtIn('brine-box');
const turned = (...list: (readonly [tick: number, number: number, value: number])[]) =>
  foot((t) => {
    preset(t, 0, 0);
    for (const [tick, number, value] of list) t.control(tick, 9, number, value);
    return t;
  });
const gallery = builtIn('lamp-gallery');
/** Values of one controller every so many ticks; at 120 BPM 48 ticks are 50 ms. */
const dense = (count: number, every: number) =>
  turned(...Array.from({ length: count }, (_, i) => [960 + i * every, 11, i % 100] as const));
const lamps = (each: number) =>
  song([
    conductor(),
    Array.from({ length: 12 }, (_, n) => n).reduce((track, n) => {
      for (let i = 0; i < each; i++)
        track.control(480 + i * 32, 14, 20 + n, i % 2 === 0 ? 40 + i : 10);
      return track;
    }, new Track('Lamps')),
  ]);

testRule(curveRate, {
  valid: [
    { name: '50 in a second', target: box, source: dense(50, 19) },
    { name: 'twelve lamps, 25 each', target: gallery, source: lamps(25) },
  ],
  invalid: [
    {
      name: 'every millisecond',
      code: 'curve-rate',
      target: box,
      source: dense(60, 1),
      measured: 10,
    },
    {
      name: 'the 51st of a second',
      code: 'curve-rate',
      target: box,
      source: dense(51, 19),
      measured: 1,
      at: [960 + 50 * 19],
    },
    {
      name: 'twelve lamps at once, 29 each in a second',
      code: 'curves-rate',
      target: gallery,
      source: lamps(29),
      measured: 48,
    },
  ],
});
