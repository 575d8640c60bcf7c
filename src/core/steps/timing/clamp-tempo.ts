import * as z from 'zod';
import { defineStep, done, withScore } from '../define-step';
import { plain } from '../../target/words';
import { withDefault } from './tempo-params';

export const clampTempo = defineStep({
  id: 'clamp-tempo',
  reach: 'piece',
  title: 'Clamp tempo',
  summary: 'Brings tempos that are too slow or too fast to the nearest allowed one, holding bars.',
  params: z.strictObject({
    lowestBpm: z.number().min(1).max(1000).optional(),
    highestBpm: z.number().min(1).max(1000).optional(),
  }),
  describe: (p) =>
    `clamp tempo to ${plain(p.lowestBpm ?? 1)}–${p.highestBpm === undefined ? '' : plain(p.highestBpm)} BPM`,
  apply({ piece, params }) {
    const { conductor } = piece.score;
    const slowest =
      params.lowestBpm === undefined ? 0xffffff : Math.floor(60_000_000 / params.lowestBpm);
    const fastest = params.highestBpm === undefined ? 1 : Math.ceil(60_000_000 / params.highestBpm);
    let events = 0;
    const tempos = withDefault(conductor.tempos).map((t) => {
      const us = Math.min(slowest, Math.max(fastest, t.microsecondsPerQuarter));
      if (us === t.microsecondsPerQuarter) return t;
      events++;
      return { ...t, microsecondsPerQuarter: us };
    });
    const next = events === 0 ? piece : withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempos changed' });
  },
});
