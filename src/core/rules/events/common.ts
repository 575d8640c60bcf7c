import type { Piece } from '../../score/piece';
import type { Span } from '../finding';
import { layoutOf } from '../../score/layout';
import { spanAt } from '../define-rule';

/** Distinct places, at most as many as can be shown. */
const MOST_SPANS = 500;

export const spansOf = (ticks: readonly number[]): Span[] =>
  [...new Set(ticks)]
    .sort((a, b) => a - b)
    .slice(0, MOST_SPANS)
    .map(spanAt);

/** Meta and sysex events of the tracks that will be written. */
export function writtenEvents(piece: Piece) {
  const tracks = new Set(layoutOf(piece).flatMap((t) => t.tracks));
  return piece.score.tracks.flatMap((track, i) => (tracks.has(i) ? track.events : []));
}
