import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, targetWith } from '../../../../testing/score-builder';
import { channelEvents } from './channel-events';

const loft = builtIn('bell-loft');

testRule(channelEvents, {
  valid: [{ name: 'none', target: loft, source: simple }],
  invalid: [
    {
      name: 'pan',
      code: 'controllers',
      target: loft,
      source: song([conductor(), line(60).control(0, 1, 10, 20)]),
      lossless: [true],
    },
    {
      name: 'a level',
      code: 'controllers',
      target: loft,
      source: song([conductor(), line(60).control(0, 1, 7, 20)]),
      // What the loft refuses by its data cannot be lost on it; it is listed.
      lossless: [true],
    },
    {
      name: 'program',
      code: 'programs',
      target: loft,
      source: song([conductor(), line(60).program(0, 1, 14)]),
      // What the loft refuses by its data cannot be lost on it; it is listed.
      lossless: [true],
    },
    {
      name: 'a level, where programs and bends are heard',
      code: 'controllers',
      target: targetWith({ events: { controllersWithout: [1] } }),
      source: song([conductor(), line(60).control(0, 1, 1, 20)]),
      lossless: [true],
    },
    {
      name: 'bend',
      code: 'bends',
      target: loft,
      source: song([conductor(), line(60).event(10, 0xe0, 1, 0, 80)]),
      // What the loft refuses by its data cannot be lost on it; it is listed.
      lossless: [true],
    },
    {
      name: 'aftertouch',
      code: 'aftertouch',
      target: targetWith({ events: { aftertouch: 'none' } }),
      source: song([conductor(), line(60).event(10, 0xd0, 1, 80).event(11, 0xa0, 1, 60, 3)]),
      measured: 2,
    },
  ],
});
