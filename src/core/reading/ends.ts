import { layoutOf } from '../score/layout';
import type { Piece } from '../score/piece';
import { endOfTrack } from '../score/to-tracks';
import { isIn, type Score } from '../score/score';

/** Where each track of the delivery ends: its end-of-track, or the last note that rings on. */
export function trackEnds(piece: Piece): number[] {
  const { score } = piece;
  return layoutOf(piece).map((selection) => {
    let end = endOfTrack(score, selection);
    for (const p of selection.parts) {
      const { notes } = score.parts[p]!;
      for (let i = 0; i < notes.count; i++) if (notes.end[i]! > end) end = notes.end[i]!;
    }
    return end;
  });
}

/** Where the delivery ends: its last track. */
export const deliveredEnd = (piece: Piece): number =>
  trackEnds(piece).reduce((a, b) => Math.max(a, b), 0);

/** The last tick at which a note of the delivery sounds. */
export function lastNoteEnd({ parts }: Score): number {
  let end = 0;
  for (const part of parts) {
    if (!isIn(part)) continue;
    const { notes } = part;
    for (let i = 0; i < notes.count; i++) if (notes.end[i]! > end) end = notes.end[i]!;
  }
  return end;
}
