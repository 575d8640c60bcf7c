import { plain } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { SAME_LENGTH_MS } from './common';
import { APART_MS, apartBy, struckIn } from '../../sound/beside';
import { firstTickOf, isIn } from '../../score/score';
import { moveNotes } from '../../steps/editing';
import { shift } from '../../steps/timing/shift';
import { soundGoesOut } from '../../target/sound';
import { soundLater } from '../../steps/companion';

export const soundApart = defineRule({
  id: 'sound-apart',
  summary: 'Score and recording lie beside each other: what both have, they have at once.',
  story: {
    why: 'The score was moved and the recording was not, or one of them was exported from another place of the session.',
    mends:
      'The score is moved to the recording, or the recording to the score where it is delivered.',
  },
  block: null,
  phase: 'start',
  needs: ['recording'],
  codes: {
    'sound-apart': says<{ ms: string; what: string }>({
      title: 'Score and recording are apart',
      wrong: (f) => `What the score plays is heard ${f.ms} ms ${f.what} in the recording.`,
      then: (_, w) => `${w.Target} starts both at once, so every ${w.note} misses by as much.`,
    }),
  },
  check({ piece, maps, listened, target, report }) {
    const first = firstTickOf(piece.score);
    if (!listened || first === null) return;
    const { clock, bars } = maps;
    const apart = apartBy(struckIn(piece, clock), listened.onsets);
    if (apart === null || Math.abs(apart) <= APART_MS) return;
    const bar = clock.msAt(bars.barStart(1)) - clock.msAt(0);
    const owed = Math.round(apart / bar);
    // Whole bars that are missing at the start are a finding of their own.
    const swallowed = owed >= 1 && owed <= 64 && Math.abs(apart - owed * bar) <= SAME_LENGTH_MS;
    if (swallowed && first < bars.barStart(1) && piece.score.division.kind === 'ppq') return;
    const ms = Math.round(Math.abs(apart) * 1000) / 1000;
    const later = apart > 0;
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const early = clock.msAt(first) >= ms;
    const mends = [
      ...(later ? [mend(`Move the score ${plain(ms)} ms later`, shift, { ms })] : []),
      ...(!later && early
        ? [mend(`Move the notes ${plain(ms)} ms earlier`, moveNotes, { ms: -ms }, parts)]
        : []),
      ...(soundGoesOut(target)
        ? [
            mend(
              later
                ? `Cut ${plain(ms)} ms off the start of the sound`
                : `Put ${plain(ms)} ms of silence before the sound`,
              soundLater,
              { ms: later ? -ms : ms },
            ),
          ]
        : []),
    ];
    report({
      code: 'sound-apart',
      severity: 'caution',
      spans: [{ fromTick: first, toTick: first + 1 }],
      data: { ms: plain(Math.round(ms)), what: later ? 'later' : 'earlier' },
      measured: { value: Math.round(apart), unit: 'ms' },
      allowed: { withinMs: APART_MS },
      ...(mends.length > 0
        ? { mends }
        : { noMend: 'The first note cannot begin earlier: use a recording with more before it.' }),
    });
  },
});
