import { HAIR, defineRule, mend, says } from '../define-rule';
import { count, plain, sayMs } from '../../target/words';
import { firstTickOf, ticksPerQuarterOf } from '../../score/score';
import { notesBefore } from './notes-before';
import { withSoundToo } from './sound-too';
import { restAtStart } from '../../steps/timing/rest-at-start';
import { shift } from '../../steps/timing/shift';

export const firstNote = defineRule({
  id: 'first-note',
  summary: 'The clock time before which no note may stand.',
  story: {
    why: 'Motors, boilers and loading screens need a moment that a song does not know of.',
    mends: 'Whole bars of rest, or the exact time that is missing.',
  },
  block: 'start',
  reads: ['leadInMs'],
  phase: 'start',
  codes: {
    'first-note': says<{ ms: string; leadIn: string }>({
      title: 'First note before the target is ready',
      named: (f) => `First note at ${f.ms} ms, ready at ${f.leadIn} ms`,
      wrong: (f) => `The first note stands at ${f.ms} ms.`,
      then: (f, w) => `${w.Target} is ready after ${f.leadIn} ms and drops what comes before.`,
    }),
  },
  check(input) {
    const { block, piece, maps, report } = input;
    if (!block.leadInMs) return;
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const ms = maps.clock.msAt(first);
    if (ms >= block.leadInMs - HAIR) return;
    // Whole bars keep the music on its bar lines; the exact shift keeps it as early as it can be.
    const { numerator, denominator } = maps.bars.meterAt(0);
    const bar = (numerator * 4 * ticksPerQuarterOf(piece.score.division)) / denominator;
    let bars = 1;
    while (ms + maps.clock.msAtStart(Math.ceil(bars * bar)) < block.leadInMs && bars < 64) bars++;
    const until = maps.clock.tickAt(block.leadInMs);
    const data = { ms: sayMs(ms, block.leadInMs), leadIn: plain(block.leadInMs) };
    report({
      code: 'first-note',
      spans: [{ fromTick: 0, toTick: Math.max(1, until) }],
      notes: notesBefore(piece, until),
      data,
      measured: { value: Math.round(ms * 1000) / 1000, unit: 'ms' },
      allowed: { leadInMs: block.leadInMs },
      mends: withSoundToo(input, [
        mend(`Put ${count(bars, 'bar')} of rest at the start`, restAtStart, { bars }),
        mend(`Move everything ${plain(Math.ceil(block.leadInMs - ms))} ms later`, shift, {
          ms: block.leadInMs - ms,
        }),
      ]),
    });
  },
});
