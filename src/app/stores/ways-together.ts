import type { StepCall } from '../../core/steps/call';
import type { Jump } from '../../core/sound/align/alignment';
import { editsOf, sayBars } from '../../core/sound/align/jumps';
import { count, plain } from '../../core/target/words';
import type { LaidPiece } from './job';

/** A way to bring score and recording together. */
export interface Way {
  readonly says: string;
  readonly did: string;
  readonly steps: StepCall[];
}

export const call = (step: string, params: object): StepCall => ({
  step,
  params,
  scope: {},
  on: true,
});
const seconds = (ms: number) => `${plain(Math.abs(Math.round(ms)) / 1000)} s`;

/**
 * What brings both together, the way that keeps bars first.
 * @param ms by which the recording is later than the score; below 0 it is earlier
 * @param bars the same where it is whole bars, else 0
 * @param goesOut the sound goes out with the score, and may be changed as well
 */
export function waysTogether(piece: LaidPiece, ms: number, bars: number, goesOut: boolean): Way[] {
  const exact = Math.abs(Math.round(ms * 1000) / 1000);
  const out: Way[] = [];
  const way = (says: string, step: StepCall) => out.push({ says, did: says, steps: [step] });
  if (bars > 0) way(`Put back ${count(bars, 'bar')} of rest`, call('rest-at-start', { bars }));
  if (ms > 0 && bars <= 0) way(`Move the score ${seconds(ms)} later`, call('shift', { ms: exact }));
  if (ms < 0) {
    const first = piece.firstTick;
    const room = first === null ? 0 : piece.clock.msAt(first);
    if (bars < 0 && piece.bars.barAt(first ?? 0) >= -bars)
      way(`Take ${count(-bars, 'bar')} of rest away`, call('trim-start', { bars: -bars }));
    else if (room >= exact)
      way(`Move the notes ${seconds(ms)} earlier`, call('move-notes', { ms: -exact }));
  }
  if (goesOut)
    way(
      ms > 0
        ? `Cut ${seconds(ms)} off the sound`
        : `Put ${seconds(ms)} of silence before the sound`,
      call('sound-later', { ms: ms > 0 ? -exact : exact }),
    );
  return out;
}

/**
 * What is done about a place at which one has what the other has not, the score first.
 * @param goesOut the sound goes out with the score, and may be changed as well
 */
export function waysOfJump(piece: LaidPiece, jump: Jump, goesOut: boolean): Way[] {
  const { moreMs, lost, silence, cut } = editsOf(piece, jump);
  const out: Way[] = [];
  const way = (says: string, step: StepCall) => out.push({ says, did: says, steps: [step] });
  if (lost) way(`Cut ${sayBars(lost)} out of the score`, call('cut-bars', lost));
  if (!goesOut) return out;
  if (moreMs > 0)
    way(`Put ${seconds(moreMs)} of silence into the sound`, call('sound-gap', silence));
  else way(`Cut ${seconds(moreMs)} out of the sound`, call('sound-cut', cut));
  return out;
}
