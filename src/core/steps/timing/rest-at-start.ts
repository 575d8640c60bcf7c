import * as z from 'zod';
import { count } from '../../target/words';
import { defineStep } from '../define-step';
import { andSound, moveAll, soundToo } from './move-all';
import { ticksPerQuarterOf, type Score } from '../../score/score';

const barTicks = (score: Score, numerator: number, denominator: number) =>
  (numerator * 4 * ticksPerQuarterOf(score.division)) / denominator;

export const restAtStart = defineStep({
  id: 'rest-at-start',
  reach: 'piece',
  title: 'Rest at the start',
  summary: 'Puts whole bars of rest before the music. What sets up the piece stays at the start.',
  params: z.strictObject({ bars: z.int().min(1).max(64).describe('Bars'), soundToo }),
  describe: (p) => `${count(p.bars, 'bar')} of rest at the start${andSound(p)}`,
  apply({ piece, params, maps }) {
    const { numerator, denominator } = maps.bars.meterAt(0);
    const ticks = Math.ceil(params.bars * barTicks(piece.score, numerator, denominator));
    return moveAll(piece, ticks, params.soundToo ? maps.clock : undefined);
  },
});
