import * as z from 'zod';
import { defineStep, done, withScore } from '../define-step';
import { sayBpm } from '../../time/tempos';
import { tempo, tempoAtZero } from './tempo-params';

export const holdBars = defineStep({
  id: 'one-tempo-holding-bars',
  reach: 'piece',
  title: 'One tempo, holding bars',
  summary: 'Replaces all tempos by one; every note stays in its bar and moves on the clock.',
  params: z.strictObject({ microsecondsPerQuarter: tempo }),
  describe: (p) => `one tempo, ${sayBpm(p.microsecondsPerQuarter)}, holding bars`,
  apply({ piece, params }) {
    if (piece.score.division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    const { conductor } = piece.score;
    const tempos = [tempoAtZero(params.microsecondsPerQuarter)];
    const events = conductor.tempos.length;
    const next = withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempo events replaced', says: 'One tempo set' });
  },
});
