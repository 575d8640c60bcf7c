import * as z from 'zod';
import { plain } from '../../target/words';
import { defineStep, done, withScore } from '../define-step';
import { tempoAtZero } from './tempo-params';

/** SMF 1.0, "Set Tempo": 24 bits. */
const SLOWEST = 0xffffff;

export const scaleTempo = defineStep({
  id: 'scale-tempo',
  reach: 'piece',
  title: 'Play faster or slower',
  summary: 'Every tempo by one share: all stays in its bar, and lasts longer or shorter.',
  params: z.strictObject({
    percent: z.number().min(10).max(1000).describe('Percent of the speed: 100 is as it is'),
  }),
  describe: (p) => `at ${plain(p.percent)} percent of its speed`,
  apply({ piece, params, maps }) {
    const { conductor, division } = piece.score;
    if (division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    const stated = conductor.tempos[0]?.tick === 0;
    const all = stated
      ? conductor.tempos
      : [tempoAtZero(maps.clock.tempoAt(0)), ...conductor.tempos];
    const tempos = all.map((t) => ({
      ...t,
      microsecondsPerQuarter: Math.round((t.microsecondsPerQuarter * 100) / params.percent),
    }));
    const beyond = tempos.find(({ microsecondsPerQuarter: us }) => us < 1 || us > SLOWEST);
    if (beyond) return { refused: 'A tempo would be beyond what a file can hold.' };
    const next = withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, {
      events: tempos.length,
      eventWords: 'tempo events changed',
      says: `Runs at ${plain(params.percent)} percent`,
    });
  },
});
