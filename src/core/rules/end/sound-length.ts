import { count, plain } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { frameRateOf } from '../../reading/frames';
import { roundMs } from '../../score/inventory';
import { setLength } from '../../steps/length';
import { soundEnd } from '../../steps/companion';
import { soundGoesOut } from '../../target/sound';

export const soundLength = defineRule({
  id: 'sound-length',
  summary: 'As long as the sound that plays beside it.',
  story: {
    why: 'Sound and score were exported with different tails.',
    mends: 'The piece ends with the sound, or the sound with the piece where it is delivered.',
  },
  block: 'end',
  reads: ['soundWithinMs', 'soundWithinFrames'],
  phase: 'end',
  needs: ['recording'],
  codes: {
    'sound-length': says<{ piece: string; sound: string; within: string }>({
      title: 'Score and sound differ in length',
      named: (f) => `Score ${f.piece} s, sound ${f.sound} s`,
      wrong: (f) => `The piece is ${f.piece} s long, the sound ${f.sound} s.`,
      then: (f, w) =>
        `${w.Target} allows ${f.within} between the two and stops where the shorter one ends.`,
    }),
  },
  check({ block, piece, maps, recordingMs, soundName, target, report, need }) {
    const { soundWithinMs, soundWithinFrames } = block;
    if (soundWithinMs === undefined && soundWithinFrames === undefined) return;
    if (recordingMs === null) {
      need('recording');
      return;
    }
    const rate = frameRateOf(piece);
    const within =
      soundWithinMs ?? (rate === null ? 1000 / 24 : 1000 / rate) * (soundWithinFrames ?? 1);
    const { clock } = maps;
    const ms = clock.msAt(deliveredEnd(piece));
    const off = ms - recordingMs;
    if (Math.abs(off) <= within + 1e-6) return;
    const toMs = roundMs(recordingMs);
    report({
      code: 'sound-length',
      spans: [spanAt(Math.max(0, deliveredEnd(piece) - 1))],
      data: {
        piece: plain(ms / 1000),
        sound: plain(recordingMs / 1000),
        within:
          soundWithinMs === undefined
            ? `${count(soundWithinFrames ?? 1, 'frame')}`
            : `${plain(within)} ms`,
      },
      measured: { value: Math.round(off * 1000) / 1000, unit: 'ms' },
      allowed: soundWithinMs === undefined ? { soundWithinFrames } : { soundWithinMs },
      ...(clock.tickAt(recordingMs) > 0
        ? {
            mends: [
              mend('End the score with the sound', setLength, { toMs }),
              ...(soundName !== null && soundGoesOut(target)
                ? [
                    mend('End the sound with the score', soundEnd, {
                      ms: Math.round(ms * 1000) / 1000,
                    }),
                  ]
                : []),
            ],
          }
        : { noMend: 'The sound has no length.' }),
    });
  },
});
