import * as z from 'zod';
import { defineStep, done, withScore } from '../define-step';
import { endTickOf, type TempoMark } from '../../score/score';

export const thinTempo = defineStep({
  id: 'thin-tempo',
  reach: 'piece',
  title: 'Thin tempo events',
  summary: 'Drops tempo events that say nothing new, then merges the likest neighbours.',
  params: z.strictObject({
    most: z.int().min(1).max(100_000).describe('Tempo events that may stay'),
  }),
  describe: ({ most }) => `thin tempo events to ${most}`,
  apply({ piece, params }) {
    const { conductor } = piece.score;
    const before = conductor.tempos.length;
    const tempos = mergeTempos(conductor.tempos, params.most, endTickOf(piece.score));
    const events = before - tempos.length;
    const next = events === 0 ? piece : withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempo events taken out' });
  },
});

/**
 * Neighbours within a ratio of each other become one tempo that lasts as long in all, so that the
 * clock agrees again behind them. The ratio is the smallest that leaves few enough.
 */
function mergeTempos(tempos: readonly TempoMark[], most: number, endTick: number): TempoMark[] {
  const merge = (ratio: number): TempoMark[] => {
    const out: TempoMark[] = [];
    let low = 0;
    let high = 0;
    let sum = 0;
    let from = 0;
    tempos.forEach((t, i) => {
      const us = t.microsecondsPerQuarter;
      const until = tempos[i + 1]?.tick ?? Math.max(endTick, t.tick);
      const lowest = Math.min(low, us);
      const highest = Math.max(high, us);
      const last = out.at(-1);
      if (last && highest <= lowest * ratio) {
        [low, high] = [lowest, highest];
        sum += us * (until - t.tick);
        const length = until - from;
        if (length > 0 && low !== high)
          out[out.length - 1] = { ...last, microsecondsPerQuarter: Math.round(sum / length) };
        return;
      }
      out.push(t);
      [low, high, from, sum] = [us, us, t.tick, us * (until - t.tick)];
    });
    return out;
  };
  let best = merge(1);
  if (best.length <= most) return best;
  let low = 1;
  let high = 2 ** 24;
  for (let i = 0; i < 60; i++) {
    const ratio = Math.sqrt(low * high);
    const trial = merge(ratio);
    if (trial.length <= most) [best, high] = [trial, ratio];
    else low = ratio;
  }
  return best;
}
