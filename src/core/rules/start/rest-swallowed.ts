import { SAME_LENGTH_MS } from './sound-too';
import { count, plain } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { apartOf, liesBeside } from '../../sound/beside';
import { deliveredEnd } from '../../reading/ends';
import { firstTickOf } from '../../score/score';
import { restAtStart } from '../../steps/timing/rest-at-start';

const bars = (owed: number) => (owed === 1 ? 'that is one bar' : `that is ${owed} bars`);

export const restSwallowed = defineRule({
  id: 'rest-swallowed',
  summary: 'A rest at the start that the sound has and the score has not.',
  story: {
    why: 'The recording begins with silence and the export of the score does not.',
    mends: 'The missing bars of rest are put back.',
  },
  block: null,
  phase: 'start',
  needs: ['recording'],
  codes: {
    'rest-swallowed': says<{ differ: string; barsText: string }>({
      title: 'Rest missing at the start, by the sound’s length',
      wrong: (f) =>
        `The score begins at once and ends ${f.differ} s before the sound: ${f.barsText}.`,
      then: () =>
        'An export that begins at the first note swallows the rest, and everything is early against the recording.',
    }),
    'rest-swallowed-heard': says<{ early: string; barsText: string }>({
      title: 'Rest missing at the start, by the sound',
      wrong: (f) =>
        `The first note sounds ${f.early} s before the recording has it: ${f.barsText}.`,
      then: () =>
        'An export that begins at the first note swallows the rest, and everything is early against the recording.',
    }),
  },
  check({ piece, maps, recordingMs, listened, target, report }) {
    if (recordingMs === null || piece.score.division.kind === 'smpte') return;
    const first = firstTickOf(piece.score);
    const { clock, bars: grid } = maps;
    const bar = clock.msAt(grid.barStart(1)) - clock.msAt(0);
    // Whole bars only, and no more than a song begins with.
    const owedIn = (ms: number) => {
      const owed = Math.round(ms / bar);
      return owed >= 1 && owed <= 64 && Math.abs(ms - owed * bar) <= SAME_LENGTH_MS ? owed : null;
    };
    const mends = (owed: number) => [
      mend(`Put back ${count(owed, 'bar')} of rest`, restAtStart, { bars: owed }),
    ];
    if (listened) {
      if (first === null || first >= grid.barStart(1)) return;
      const apart = apartOf(liesBeside(piece, clock, listened));
      const owed = apart === null ? null : owedIn(apart);
      if (apart === null || owed === null) return;
      // What the target asks for at the start says the same, and is mended by the same.
      if (target.start?.leadInBars !== undefined && owed <= target.start.leadInBars) return;
      report({
        code: 'rest-swallowed-heard',
        severity: 'caution',
        spans: [{ fromTick: 0, toTick: 1 }],
        data: { early: (apart / 1000).toFixed(3), barsText: bars(owed) },
        measured: { value: Math.round(apart), unit: 'ms' },
        mends: mends(owed),
      });
      return;
    }
    if (first !== 0) return;
    const missing = recordingMs - clock.msAt(deliveredEnd(piece));
    const owed = owedIn(missing);
    if (owed === null) return;
    report({
      code: 'rest-swallowed',
      severity: 'caution',
      spans: [{ fromTick: 0, toTick: 1 }],
      data: { differ: plain(missing / 1000), barsText: bars(owed) },
      measured: { value: Math.round(missing), unit: 'ms' },
      mends: mends(owed),
    });
  },
});
