import * as z from 'zod';
import { plain } from '../../target/words';
import type { TempoMark } from '../../score/score';
import { defineStep, done, withScore } from '../define-step';

export const spaceTempos = defineStep({
  id: 'space-tempos',
  reach: 'piece',
  title: 'Space tempo events',
  summary:
    'Makes one tempo of those that follow too soon, so that the clock agrees again behind them.',
  params: z.strictObject({ apartMs: z.number().min(1).max(3_600_000) }),
  describe: (p) => `tempo events ${plain(p.apartMs)} ms apart`,
  apply({ piece, params, maps }) {
    const { tempos } = piece.score.conductor;
    const out: TempoMark[] = [];
    let from = -Infinity;
    for (const [i, t] of tempos.entries()) {
      const us = maps.clock.msAt(t.tick) * 1000;
      if (us - from >= params.apartMs * 1000 - 1 || out.length === 0) {
        out.push(t);
        from = us;
        continue;
      }
      // The one before lasts until the next that stays, at their mean.
      const first = out.at(-1)!;
      const until = tempos[i + 1]?.tick;
      const length = (until ?? t.tick) - first.tick;
      if (until === undefined || length <= 0) {
        out[out.length - 1] = { ...first, microsecondsPerQuarter: t.microsecondsPerQuarter };
        continue;
      }
      const sum =
        first.microsecondsPerQuarter * (t.tick - first.tick) +
        t.microsecondsPerQuarter * (until - t.tick);
      out[out.length - 1] = { ...first, microsecondsPerQuarter: Math.round(sum / length) };
    }
    const events = tempos.length - out.length;
    const next =
      events === 0
        ? piece
        : withScore(piece, { conductor: { ...piece.score.conductor, tempos: out } });
    return done(next, { events, eventWords: 'tempo events taken out' });
  },
});
