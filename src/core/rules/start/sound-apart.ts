import { plain } from '../../target/words';
import { defineRule, mend, says, type NoFacts } from '../define-rule';
import { SAME_LENGTH_MS } from './sound-too';
import { APART_MS, apartOf, liesBeside } from '../../sound/beside';
import { firstTickOf, isIn } from '../../score/score';
import { moveNotes } from '../../steps/editing';
import { shift } from '../../steps/timing/shift';
import { soundGoesOut } from '../../target/sound';
import { cutBars } from '../../steps/cut-bars';
import { soundCut, soundGap, soundLater } from '../../steps/companion';
import type { Alignment } from '../../sound/align/alignment';
import { editsOf, sayBars } from '../../sound/align/jumps';

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
      named: (f) => `Recording ${f.ms} ms ${f.what} than the score`,
      wrong: (f) => `What the score plays is heard ${f.ms} ms ${f.what} in the recording.`,
      then: (_, w) => `${w.Target} starts both at once, so every ${w.note} misses by as much.`,
    }),
    'sound-other-tempo': says<{ by: string; what: string }>({
      title: 'Recording at another tempo',
      wrong: (f) => `The recording runs ${f.by} % ${f.what} than the score.`,
      then: (_, w) => `The longer it plays, the further every ${w.note} is from what is heard.`,
    }),
    'sound-wanders': says<{ ms: string }>({
      title: 'Recording with a changing tempo',
      wrong: (f) => `The tempo of the recording changes: the score is up to ${f.ms} ms beside it.`,
      then: (_, w) => `What ${w.target} starts at once drifts apart and comes together again.`,
    }),
    'sound-lacks': says<{ where: string }>({
      title: 'Bars missing in the recording',
      wrong: (f) => `The recording does not have ${f.where} of the score.`,
      then: (_, w) => `From there on every ${w.note} comes later than what is heard.`,
    }),
    'sound-adds': says<{ where: string; s: string }>({
      title: 'Recording with more than the score',
      wrong: (f) => `At ${f.where} the recording has ${f.s} s that the score does not have.`,
      then: (_, w) => `From there on every ${w.note} comes earlier than what is heard.`,
    }),
    'sound-other': says<NoFacts>({
      title: 'Recording of something else?',
      wrong: () => 'The recording does not seem to be one of this score.',
      then: (_, w) => `${w.Target} plays both together, whatever they are.`,
    }),
  },
  check({ piece, maps, listened, target, report }) {
    const first = firstTickOf(piece.score);
    if (!listened || first === null) return;
    const { clock, bars } = maps;
    const lies = liesBeside(piece, clock, listened);
    const spans = [{ fromTick: first, toTick: first + 1 }];
    if (lies?.other) {
      const noMend = 'Bring in the recording of this score, or leave this one as it is.';
      report({ code: 'sound-other', severity: 'caution', spans, noMend });
    }
    if (lies?.found) tellJumps(lies.found);
    if (lies?.found && lies.found.kind !== 'offset') tellTempo(lies.found);
    const apart = apartOf(lies);
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

    function tellTempo({ kind, ratio, places }: Alignment) {
      const noMend = `Fit the tempo to the recording in Timing, or use a recording at the tempo of the score.`;
      const by = (ratio - 1) * 100;
      if (kind === 'tempo')
        report({
          code: 'sound-other-tempo',
          severity: 'caution',
          spans,
          data: { by: plain(Math.abs(by)), what: by > 0 ? 'slower' : 'faster' },
          measured: { value: Math.round(by * 1000) / 1000, unit: '%' },
          noMend,
        });
      else {
        const offs = places.map((p) => p.soundMs - p.scoreMs);
        const most = Math.round(Math.max(...offs.map(Math.abs)));
        report({
          code: 'sound-wanders',
          severity: 'caution',
          spans,
          data: { ms: plain(most) },
          measured: { value: most, unit: 'ms' },
          allowed: { withinMs: APART_MS },
          noMend,
        });
      }
    }

    function tellJumps({ jumps }: Alignment) {
      jumps.forEach((jump, k) => {
        const tick = clock.tickAt(jump.scoreFromMs);
        const { moreMs: more, lost, silence, cut } = editsOf(maps, jump);
        const where = lost ? sayBars(lost) : `bar ${bars.barAt(tick) + 1}`;
        const spans = [
          { fromTick: tick, toTick: Math.max(tick + 1, clock.tickAt(jump.scoreToMs)) },
        ];
        const common = { severity: 'caution', spans, cause: `jump ${k}` } as const;
        if (more > 0)
          report({
            ...common,
            code: 'sound-lacks',
            data: { where },
            ...(lost || soundGoesOut(target)
              ? {
                  mends: [
                    ...(lost ? [mend(`Cut ${sayBars(lost)} out of the score`, cutBars, lost)] : []),
                    ...(soundGoesOut(target)
                      ? [
                          mend(
                            `Put ${plain(silence.ms)} ms of silence into the sound`,
                            soundGap,
                            silence,
                          ),
                        ]
                      : []),
                  ],
                }
              : { noMend: 'Use a recording that has these bars.' }),
          });
        else
          report({
            ...common,
            code: 'sound-adds',
            data: { where, s: plain(Math.round(-more) / 1000) },
            ...(soundGoesOut(target)
              ? {
                  mends: [
                    mend(`Cut ${plain(Math.round(-more))} ms out of the sound`, soundCut, cut),
                  ],
                }
              : { noMend: 'Use a recording without it, or repeat those bars in the score.' }),
          });
      });
    }
  },
});
