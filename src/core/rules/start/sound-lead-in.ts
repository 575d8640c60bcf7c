import { SAME_LENGTH_MS } from './sound-too';
import { defineRule, mend, says } from '../define-rule';
import { firstTickOf } from '../../score/score';
import { lastNoteEnd } from '../../reading/ends';
import { plain } from '../../target/words';
import { soundGoesOut } from '../../target/sound';
import { soundLater } from '../../steps/companion';

export const soundLeadIn = defineRule({
  id: 'sound-lead-in',
  summary: 'The lead-in holds in the sound file as in the score.',
  story: {
    why: 'A rest was added to the score and forgotten in its sound file.',
    mends: 'Silence is put before the sound, as long as what it lacks.',
  },
  block: 'start',
  reads: ['soundToo'],
  phase: 'end',
  needs: ['recording'],
  codes: {
    'sound-lead-in': says<{ score: string; sound: string; differ: string }>({
      title: 'Sound and score begin apart',
      wrong: (f) =>
        `The score is ${f.score} s long with its lead-in, the sound ${f.sound} s: ${f.differ} s apart.`,
      then: (_, w) =>
        `${w.Target} starts both at once. A rest that stands in one of them only sets everything off by as much.`,
    }),
  },
  check({ block, piece, maps, recordingMs, soundName, target, report, need }) {
    if (!block.soundToo) return;
    if (recordingMs === null) {
      need('recording');
      return;
    }
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const { clock } = maps;
    const rest = clock.msAt(first);
    const end = clock.msAt(lastNoteEnd(piece.score));
    // The sound may ring on behind the score, but cannot end before its last note.
    if (recordingMs >= end - SAME_LENGTH_MS) return;
    const differ = end - recordingMs;
    report({
      code: 'sound-lead-in',
      spans: [{ fromTick: 0, toTick: Math.max(1, first) }],
      data: {
        score: plain(end / 1000),
        sound: plain(recordingMs / 1000),
        differ: plain(differ / 1000),
      },
      measured: { value: Math.round(differ), unit: 'ms' },
      allowed: { soundToo: true },
      ...(soundName !== null && soundGoesOut(target) && rest > 0
        ? {
            mends: [
              mend(`Put ${plain(differ / 1000)} s of silence before the sound`, soundLater, {
                ms: Math.ceil(differ),
              }),
            ],
          }
        : {
            noMend:
              rest > 0
                ? 'Put the same rest into the sound file, or take it out of the score.'
                : 'Use the sound file that belongs to this score.',
          }),
    });
  },
});
