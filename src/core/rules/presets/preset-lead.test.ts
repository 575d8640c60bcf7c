import { foot, preset } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, targetWith } from '../../../../testing/score-builder';
import { presetLead } from './preset-lead';

const box = builtIn('brine-box');
const bars = targetWith({
  presets: { list: box.presets!.list, leadLeastMs: 35, leadTo: 'bars' },
});

testRule(presetLead, {
  valid: [
    { name: '62.5 ms before', target: box, source: foot((t) => preset(preset(t, 0, 0), 3780, 1)) },
    {
      name: 'long before, where only the least is said',
      target: bars,
      source: foot((t) => preset(t, 3200, 1)),
    },
  ],
  invalid: [
    {
      name: 'on the marker',
      code: 'preset-lead',
      target: box,
      source: foot((t) => preset(preset(t, 0, 0), 3840, 1)),
      at: [3840],
      measured: 0,
      lossless: [false],
    },
    {
      name: 'a beat late, its bank with it',
      code: 'preset-lead',
      target: box,
      source: foot((t) => preset(preset(t, 0, 0), 4320, 1, 1)),
      measured: -500,
    },
    {
      name: 'half a beat early',
      code: 'preset-lead',
      target: box,
      source: foot((t) => preset(preset(t, 0, 0), 3600, 1)),
      measured: 250,
    },
    {
      name: 'far from any marker: the bar line counts',
      code: 'preset-lead',
      target: bars,
      source: foot((t) => preset(preset(t, 0, 0), 9590, 1), { endTick: 12_000 }),
      measured: 10.417,
    },
  ],
});
