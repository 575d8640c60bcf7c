import * as z from 'zod';
import { count, plain } from '../../target/words';
import { defineStep } from '../define-step';
import { andSound, moveAll, soundToo } from './move-all';
import { ticksPerQuarterOf } from '../../score/score';

export const shift = defineStep({
  id: 'shift',
  reach: 'piece',
  title: 'Shift',
  summary: 'Moves everything later by an exact time, behind the set-up at the start.',
  params: z.strictObject({
    ticks: z.int().min(0).optional().describe('Ticks'),
    ms: z.number().min(0).max(3_600_000).optional().describe('Milliseconds'),
    beats: z.number().min(0).max(100_000).optional().describe('Beats of the meter at the start'),
    soundToo,
  }),
  describe: (p) =>
    (p.ms !== undefined
      ? `${plain(p.ms)} ms later`
      : p.beats !== undefined
        ? `${count(p.beats, 'beat')} later`
        : `${count(p.ticks ?? 0, 'tick')} later`) + andSound(p),
  apply({ piece, params, maps }) {
    // Rounded up: a shift in ms is asked for where a time must be reached.
    let ticks = params.ticks ?? 0;
    if (params.beats !== undefined) {
      const { denominator } = maps.bars.meterAt(0);
      const beat = (4 * ticksPerQuarterOf(piece.score.division)) / denominator;
      ticks = Math.round(params.beats * beat);
    }
    // What is put in runs at the tempo of tick 0, whatever stood there.
    if (params.ms !== undefined) ticks = maps.clock.ticksAtStart(params.ms);
    if (ticks === 0) return { refused: 'A shift needs a time above 0.' };
    return moveAll(piece, ticks, params.soundToo ? maps.clock : undefined);
  },
});
