import { count, plain } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { firstTickOf, ticksPerQuarterOf } from '../../score/score';
import { notesBefore } from './notes-before';
import { withSoundToo } from './sound-too';
import { restAtStart } from '../../steps/timing/rest-at-start';

export const startRest = defineRule({
  id: 'start-rest',
  summary: 'Whole bars of rest before the first note.',
  story: {
    why: 'An export begins at the first note and swallows the opening rest.',
    mends: 'Whole bars of rest are put back; what sets up the piece stays at the start.',
  },
  block: 'start',
  reads: ['leadInBars'],
  phase: 'start',
  codes: {
    'rest-owed': says<{
      has: number;
      hasText: string;
      owedText: string;
      leadInText: string;
      earlyS: string;
    }>({
      title: 'Rest missing at the start',
      wrong: (f) =>
        `${f.has === 0 ? 'This file begins at once' : `Only ${f.hasText} of rest stand before the first note`}; ${f.owedText} owed.`,
      then: (f, w) =>
        `${w.Target} waits ${f.leadInText} before its first ${w.note}, so every ${w.note} lands ${f.earlyS} s early.`,
    }),
  },
  check(input) {
    const { block, piece, maps, report } = input;
    if (!block.leadInBars) return;
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const { numerator, denominator } = maps.bars.meterAt(0);
    // Bars of the meter at tick 0, in ticks × denominator so that nothing is rounded.
    const bar = numerator * 4 * ticksPerQuarterOf(piece.score.division);
    const has = Math.floor((first * denominator) / bar);
    if (has >= block.leadInBars) return;
    const owed = block.leadInBars - has;
    const wanted = Math.ceil((block.leadInBars * bar) / denominator);
    // The rest that is put in runs at the tempo of tick 0.
    const ms = maps.clock.msAtStart(Math.ceil((owed * bar) / denominator));
    report({
      code: 'rest-owed',
      spans: [{ fromTick: 0, toTick: wanted }],
      notes: notesBefore(piece, wanted),
      data: {
        has,
        hasText: count(has, 'bar'),
        owedText: owed === 1 ? '1 bar is' : `${owed} bars are`,
        leadInText: count(block.leadInBars, 'bar'),
        earlyS: plain(ms / 1000),
      },
      measured: { value: has, unit: 'bars' },
      allowed: { leadInBars: block.leadInBars },
      mends: withSoundToo(input, [
        mend(`Put back ${count(owed, 'bar')} of rest`, restAtStart, { bars: owed }),
      ]),
    });
  },
});
