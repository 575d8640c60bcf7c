import * as z from 'zod';
import { LATEST_TICK } from '../../smf/file';
import { count } from '../../target/words';
import { cutAt, mapper } from '../../time/time-map';
import { defineStep, done, withScore } from '../define-step';
import { firstTickOf } from '../../score/score';
import { mapTicks } from '../../score/map-ticks';
import { placedLater } from '../../sound/edits';
import { withSound } from '../companion';
import { andSound, soundToo } from './move-all';
import { noteCount } from './note-count';

export const trimStart = defineStep({
  id: 'trim-start',
  reach: 'piece',
  title: 'Trim the start',
  summary: 'Takes away whole bars of rest before the first note.',
  params: z.strictObject({ bars: z.int().min(1).max(LATEST_TICK).describe('Bars'), soundToo }),
  describe: (p) => `take ${count(p.bars, 'bar')} of rest from the start${andSound(p)}`,
  apply({ piece, params, maps }) {
    const cut = maps.bars.barStart(params.bars);
    const first = firstTickOf(piece.score) ?? Infinity;
    if (first < cut)
      return { refused: `There are notes in the first ${count(params.bars, 'bar')}.` };
    const map = cutAt(cut);
    const score = mapTicks(piece.score, mapper(map));
    // What was in force at the cut is in force at the start.
    const lastAtZero = <T extends { tick: number }>(list: readonly T[]) =>
      list.filter((e, i) => e.tick > 0 || list[i + 1]?.tick !== 0);
    const { conductor } = score;
    const gone = params.soundToo ? placedLater(-Math.round(maps.clock.msAt(cut) * 1000)) : [];
    const sound = params.soundToo
      ? { ...withSound(piece, gone), soundMoved: true as const }
      : piece;
    const next = withScore(sound, {
      ...score,
      conductor: {
        ...conductor,
        tempos: lastAtZero(conductor.tempos),
        meters: lastAtZero(conductor.meters),
        keys: lastAtZero(conductor.keys),
      },
    });
    return done(next, { changed: noteCount(next.score), verb: 'moved' }, [], map);
  },
});
