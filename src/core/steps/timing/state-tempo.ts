import * as z from 'zod';
import { defineStep, done, withScore } from '../define-step';
import { tempoAtZero } from './tempo-params';

export const stateTempo = defineStep({
  id: 'state-tempo',
  reach: 'piece',
  title: 'Write the tempo at the start',
  summary: 'Writes the tempo that is in force at tick 0, where it was only the default.',
  params: z.strictObject({}),
  describe: () => 'write the tempo at the start',
  apply({ piece, maps }) {
    const { conductor, division } = piece.score;
    if (division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    if (conductor.tempos[0]?.tick === 0) return { refused: 'The tempo at the start is written.' };
    const tempos = [tempoAtZero(maps.clock.tempoAt(0)), ...conductor.tempos];
    const next = withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events: 1, eventWords: 'tempo event written' });
  },
});
