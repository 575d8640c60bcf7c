import type { Piece } from '../../score/piece';
import { layoutOf } from '../../score/layout';

/** Meta and sysex events of the tracks that will be written. */
export function writtenEvents(piece: Piece) {
  const tracks = new Set(layoutOf(piece).flatMap((t) => t.tracks));
  return piece.score.tracks.flatMap((track, i) => (tracks.has(i) ? track.events : []));
}
