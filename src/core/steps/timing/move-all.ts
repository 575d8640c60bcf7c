import * as z from 'zod';
import type { Piece } from '../../score/piece';
import { LATEST_TICK } from '../../smf/file';
import { done, type StepResult } from '../define-step';
import { endTickOf } from '../../score/score';
import { mapTicks } from '../../score/map-ticks';
import { placedLater } from '../../sound/edits';
import { withSound } from '../companion';
import type { Clock } from '../../time/tempo-map';
import { mapper, shifted } from '../../time/time-map';
import { noteCount } from './note-count';
import { TOO_LATE } from './too-late';

export const soundToo = z
  .boolean()
  .optional()
  .describe('The companion sound moves by as much, so that both stay together');

/** Said of a step that takes the sound along. */
export const andSound = ({ soundToo: too }: { readonly soundToo?: boolean | undefined }): string =>
  too ? ', the sound too' : '';

/** Everything but the set-up at tick 0 moves by `ticks`; where it is said, the sound as well. */
export function moveAll(piece: Piece, ticks: number, soundBy?: Clock): StepResult {
  if (endTickOf(piece.score) + ticks > LATEST_TICK) return { refused: TOO_LATE };
  const map = shifted(ticks);
  const silence = soundBy ? placedLater(Math.round(soundBy.msAtStart(ticks) * 1000)) : [];
  const sound = soundBy ? { ...withSound(piece, silence), soundMoved: true as const } : piece;
  const next = { ...sound, score: mapTicks(piece.score, mapper(map), true) };
  return done(next, { changed: noteCount(next.score), verb: 'moved' }, [], map);
}
