import { simple, line } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, targetWith } from '../../../../testing/score-builder';
import { systemEvents } from './system-events';

const loft = builtIn('bell-loft');

testRule(systemEvents, {
  valid: [{ name: 'none', target: loft, source: simple }],
  invalid: [
    {
      name: 'sysex',
      code: 'sysex',
      target: loft,
      source: song([conductor(), line(60).sysex(0, [0x7d, 1, 0xf7])]),
      lossless: [true],
    },
    {
      name: 'a meta event nobody knows',
      code: 'unknown-meta',
      target: targetWith({ events: { unknownMeta: 'none' } }),
      source: song([conductor(), line(60).meta(0, 0x60, Uint8Array.of(1, 2))]),
      lossless: [true],
    },
  ],
});
