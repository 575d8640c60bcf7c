import { SAME_LENGTH_MS } from './common';
import { count, plain } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { firstTickOf } from '../../score/score';
import { restAtStart } from '../../steps/timing/rest-at-start';

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
      title: 'The rest at the start is gone',
      wrong: (f) =>
        `The score begins at once and ends ${f.differ} s before the sound: ${f.barsText}.`,
      then: () =>
        'An export that begins at the first note swallows the rest, and everything is early against the recording.',
    }),
  },
  check({ piece, maps, recordingMs, report }) {
    if (recordingMs === null || piece.score.division.kind === 'smpte') return;
    const first = firstTickOf(piece.score);
    if (first !== 0) return;
    const { clock, bars } = maps;
    const end = clock.msAt(deliveredEnd(piece));
    const missing = recordingMs - end;
    const bar = clock.msAt(bars.barStart(1)) - clock.msAt(0);
    const owed = Math.round(missing / bar);
    if (owed < 1 || owed > 64 || Math.abs(missing - owed * bar) > SAME_LENGTH_MS) return;
    report({
      code: 'rest-swallowed',
      severity: 'caution',
      spans: [{ fromTick: 0, toTick: 1 }],
      data: {
        differ: plain(missing / 1000),
        barsText: owed === 1 ? 'that is one bar' : `that is ${owed} bars`,
      },
      measured: { value: Math.round(missing), unit: 'ms' },
      mends: [mend(`Put back ${count(owed, 'bar')} of rest`, restAtStart, { bars: owed })],
    });
  },
});
