import * as z from 'zod';
import { LATEST_TICK } from '../../smf/file';
import { TOO_LATE } from './too-late';
import { noteCount } from './note-count';
import { defineStep, done, withScore } from '../define-step';
import { endTickOf } from '../../score/score';
import { mapTicks } from '../../score/map-ticks';
import { mapper, scaled } from '../../time/time-map';

export const setPpq = defineStep({
  id: 'set-ppq',
  reach: 'piece',
  title: 'Set PPQ',
  summary: 'Writes the same music with another number of ticks to the quarter note.',
  params: z.strictObject({ ticksPerQuarter: z.int().min(1).max(32_767).describe('PPQ') }),
  describe: (p) => `PPQ ${p.ticksPerQuarter}`,
  apply({ piece, params }) {
    const { score } = piece;
    if (score.division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    const from = score.division.ticksPerQuarter;
    const to = params.ticksPerQuarter;
    const map = scaled(from, to);
    const at = mapper(map);
    if (at(endTickOf(score)) > LATEST_TICK) return { refused: TOO_LATE };
    const next = withScore(piece, {
      ...mapTicks(score, at),
      division: { kind: 'ppq', ticksPerQuarter: to },
    });
    return done(next, { changed: noteCount(score), verb: `at PPQ ${to}` }, [], map);
  },
});
