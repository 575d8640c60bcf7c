import { piece, at, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith } from '../../../../testing/score-builder';
import { earlyEvents } from './early-events';

const setUpAt = (tick: number) => piece(at([BAR, 480, 60]).event(tick, 0xb0, 1, 7, 90));

testRule(earlyEvents, {
  valid: [
    { name: 'at tick 0', target: targetWith({ start: { leadInBars: 1 } }), source: setUpAt(0) },
    {
      name: 'with the first note',
      target: targetWith({ start: { leadInBars: 1 } }),
      source: setUpAt(BAR),
    },
    {
      name: 'the rest itself is owed',
      target: targetWith({ start: { leadInBars: 2 } }),
      source: setUpAt(9),
    },
  ],
  invalid: [
    {
      name: 'a tick behind the start',
      code: 'event-early',
      severity: 'caution',
      target: targetWith({ start: { leadInBars: 1 } }),
      source: setUpAt(1),
      at: [1],
      lossless: [true],
    },
    {
      name: 'a tick before it is ready',
      code: 'event-early',
      target: targetWith({ start: { leadInMs: 1000 } }),
      source: setUpAt(959),
      at: [959],
      lossless: [true],
    },
  ],
});
