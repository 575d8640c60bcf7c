import type { Piece } from '../plan/model';
import { isIn, type Part, type Score } from './score';
import type { TrackSelection } from './to-tracks';

const hasContent = (part: Part) => part.notes.count + part.events.count > 0;

/** Tracks of the score, in order, that carry a part that is delivered. */
export const playedTracks = (score: Score): number[] =>
  [...new Set(score.parts.filter((p) => isIn(p) && hasContent(p)).map((p) => p.track))].sort(
    (a, b) => a - b,
  );

/** Tracks whose parts are all left out: their own names and texts stay behind with them. */
export const silencedTracks = (score: Score): number[] =>
  score.tracks.flatMap((_, track) => {
    const parts = score.parts.filter((p) => p.track === track);
    return parts.length > 0 && parts.every((p) => p.leftOut) ? [track] : [];
  });

/** How a piece is laid out in the tracks of its file, as its delivery asks. */
export function layoutOf({ score, delivery }: Piece): TrackSelection[] {
  const partsOn = (tracks: readonly number[]) =>
    score.parts.flatMap((p, i) => (isIn(p) && tracks.includes(p.track) ? [i] : []));
  const all = score.tracks.map((_, i) => i);
  const silenced = new Set(silencedTracks(score));
  const kept = all.filter((t) => !silenced.has(t));
  if (delivery.layout === 'single')
    return [{ tracks: kept, conductorOf: all, parts: partsOn(all) }];
  if (delivery.layout === 'conductor-first') {
    const played = playedTracks(score);
    const silent = kept.filter((t) => !played.includes(t));
    return [
      { tracks: silent, conductorOf: all, parts: [] },
      ...played.map((t) => ({ tracks: [t], conductorOf: [], parts: partsOn([t]) })),
    ];
  }
  // What conducts from a silenced track moves to the first that stays.
  return kept.map((t, i) => ({
    tracks: [t],
    conductorOf: i === 0 ? [t, ...silenced] : [t],
    parts: partsOn([t]),
  }));
}

/** Whether tempo, meter, key and markers stand in a first track without notes. */
export function hasConductorTrack(piece: Piece): boolean {
  if (piece.delivery.layout === 'conductor-first') return true;
  if (piece.delivery.layout === 'single') return false;
  const { tempos, meters, keys, markers } = piece.score.conductor;
  const conducting = [tempos, meters, keys, markers].flatMap((list) => list.map((e) => e.track));
  const played = playedTracks(piece.score);
  const silenced = silencedTracks(piece.score);
  return (
    !played.includes(0) &&
    !silenced.includes(0) &&
    conducting.every((t) => t === 0 || silenced.includes(t))
  );
}
