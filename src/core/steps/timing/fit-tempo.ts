import * as z from 'zod';
import { LATEST_TICK } from '../../smf/file';
import { editedTime, layoutOf } from '../../sound/edits';
import { count } from '../../target/words';
import { fitTempo, type TimedTick } from '../../time/fit-tempo';
import { mapTick } from '../../time/time-map';
import { ticksPerQuarterOf, type TempoMark } from '../../score/score';
import { defineStep, done, withScore } from '../define-step';

/** A place in the score and the time of the recording at which it is heard. */
export const Anchor = z.strictObject({
  tick: z.int().min(0).max(LATEST_TICK).describe('Ticks'),
  us: z.int().min(0).max(3_600_000_000).describe('Microseconds of the recording'),
  out: z.boolean().optional().describe('Kept, but not counted'),
});
export type Anchor = Readonly<z.infer<typeof Anchor>>;

/** Longer than any recording: a layout that is asked where a moment went, not how long it is. */
const EVER_US = 3_600_000_000;

export const fitTempoStep = defineStep({
  id: 'fit-tempo',
  reach: 'piece',
  title: 'Fit the tempo to anchors',
  summary:
    'Tempos that pass through pairs of a place in the score and a time in the recording. Notes stay in their bars; what stands before the first and behind the last anchor keeps its tempo.',
  params: z.strictObject({
    anchors: z.array(Anchor).max(20_000),
    smooth: z.boolean().optional().describe('From beat to beat, without a break at an anchor'),
  }),
  describe: ({ anchors, smooth }) =>
    `tempo through ${count(anchors.filter((a) => !a.out).length, 'anchor')}${smooth ? ', smoothly' : ''}`,
  apply({ piece, params, maps }) {
    const { score } = piece;
    if (score.division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: it has no tempo to fit.' };
    const layout = layoutOf(piece.sound ?? [], EVER_US);
    const timed: TimedTick[] = params.anchors
      .filter((a) => !a.out)
      .flatMap((a) => {
        const us = editedTime(layout, a.us);
        return us === null ? [] : [{ tick: mapTick(piece.fromBase, a.tick), ms: us / 1000 }];
      })
      .sort((a, b) => a.tick - b.tick || a.ms - b.ms);
    if (timed.length < 2) return { refused: 'A tempo needs two anchors that count.' };
    for (let i = 1; i < timed.length; i++) {
      const [a, b] = [timed[i - 1]!, timed[i]!];
      if (b.tick === a.tick || b.ms <= a.ms)
        return {
          refused: `Two anchors cross: the later place in the score is heard no later (at ${(b.ms / 1000).toFixed(3)} s). Move or remove one of them.`,
        };
    }
    const first = timed[0]!;
    const startMs = maps.clock.msAt(first.tick);
    const moved = timed.map(({ tick, ms }) => ({ tick, ms: startMs + ms - first.ms }));
    const fitted = fitTempo(moved, ticksPerQuarterOf(score.division), {
      smooth: params.smooth ?? false,
    });
    if (fitted.problem !== undefined) return { refused: fitted.problem };
    const last = timed.at(-1)!.tick;
    const { conductor } = score;
    const mark = (tick: number, microsecondsPerQuarter: number): TempoMark => ({
      tick,
      microsecondsPerQuarter,
      track: conductor.tempos[0]?.track ?? 0,
      order: 0,
    });
    const tempos = [
      ...conductor.tempos.filter((t) => t.tick < first.tick),
      ...fitted.tempos.map((t) => mark(t.tick, t.microsecondsPerQuarter)),
      mark(last, maps.clock.tempoAt(last)),
      ...conductor.tempos.filter((t) => t.tick > last),
    ];
    const next = withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events: fitted.tempos.length, eventWords: 'tempos set' });
  },
});
