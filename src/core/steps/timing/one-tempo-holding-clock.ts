import * as z from 'zod';
import { LATEST_TICK } from '../../smf/file';
import { TOO_LATE } from './too-late';
import { noteCount } from './note-count';
import { tempo, tempoAtZero } from './tempo-params';
import { defineStep, done, withScore } from '../define-step';
import { endTickOf, ticksPerQuarterOf } from '../../score/score';
import { heldByClock, mapper } from '../../time/time-map';
import { mapTicks } from '../../score/map-ticks';
import { ppqForClock, sayBpm } from '../../time/tempos';

export const holdClock = defineStep({
  id: 'one-tempo-holding-clock',
  reach: 'piece',
  title: 'One tempo, holding clock time',
  summary: 'Rewrites the bars at one tempo; every note stays at its clock time.',
  params: z.strictObject({
    microsecondsPerQuarter: tempo,
    ticksPerQuarter: z
      .int()
      .min(1)
      .max(32_767)
      .optional()
      .describe('PPQ; raised where it is too coarse'),
  }),
  describe: (p) => `hold clock time at ${sayBpm(p.microsecondsPerQuarter)}`,
  apply({ piece, params, maps }) {
    const { score } = piece;
    const us = params.microsecondsPerQuarter;
    const from = ticksPerQuarterOf(score.division);
    const ppq = params.ticksPerQuarter ?? ppqForClock(from, us);
    const map = heldByClock(maps.clock, ppq, us);
    const at = mapper(map);
    if (at(endTickOf(score)) > LATEST_TICK) return { refused: TOO_LATE };
    const moved = mapTicks(score, at);
    const next = withScore(piece, {
      ...moved,
      division: { kind: 'ppq', ticksPerQuarter: ppq },
      conductor: { ...moved.conductor, tempos: [tempoAtZero(us)] },
    });
    const counts = {
      changed: noteCount(next.score),
      verb: 'held at their clock time',
      events: Math.max(0, score.conductor.tempos.length - 1),
      eventWords: 'tempo events taken out',
    };
    return done(next, counts, [], map);
  },
});
