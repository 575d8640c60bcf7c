import * as z from 'zod';
import { defineStep, done, withScore } from '../define-step';

export const setMeter = defineStep({
  id: 'set-meter',
  reach: 'piece',
  title: 'Set meter',
  summary: 'One meter from the start; the notes stay where they are and the bars are counted anew.',
  params: z.strictObject({
    numerator: z.int().min(1).max(255),
    denominator: z.literal([1, 2, 4, 8, 16, 32, 64, 128]),
    keepLater: z.boolean().optional().describe('Leave the meters behind the start'),
  }),
  describe: (p) => `${p.keepLater ? 'begin in' : 'one meter,'} ${p.numerator}/${p.denominator}`,
  apply({ piece, params }) {
    const { conductor } = piece.score;
    const first = conductor.meters[0];
    const rest = first?.rest.length ? first.rest : Uint8Array.of(24, 8);
    const { numerator, denominator } = params;
    const later = params.keepLater ? conductor.meters.filter((m) => m.tick > 0) : [];
    const meters = [{ tick: 0, track: 0, order: 0, numerator, denominator, rest }, ...later];
    const events = conductor.meters.length - later.length;
    const next = withScore(piece, { conductor: { ...conductor, meters } });
    return done(next, { events, eventWords: 'meter events replaced', says: 'One meter set' });
  },
});
