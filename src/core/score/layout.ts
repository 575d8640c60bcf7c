import type { Piece } from './piece';
import { isIn, type Part, type Score } from './score';
import type { TrackSelection } from './to-tracks';

const hasContent = (part: Part) => part.notes.count + part.events.count > 0;

/** Tracks of the score, in order, that carry a part that is delivered. */
export const playedTracks = (score: Score): number[] =>
  [...new Set(score.parts.filter((p) => isIn(p) && hasContent(p)).map((p) => p.track))].sort(
    (a, b) => a - b,
  );

/** Tracks whose parts are all left out: their own names and texts stay behind with them. */
export function silencedTracks(score: Score): number[] {
  const heard = new Set<number>();
  const silent = new Set<number>();
  for (const part of score.parts) (part.leftOut ? silent : heard).add(part.track);
  // Of a source that does not rule, tracks without parts go with its parts.
  const followers = new Set<string>();
  // One that has no part at all brought its texts and lyrics alone.
  const withParts = new Set(score.parts.map((p) => score.tracks[p.track]!.follower));
  for (const track of heard) {
    const { follower } = score.tracks[track]!;
    if (follower !== undefined) followers.add(follower);
  }
  score.tracks.forEach(({ follower }, track) => {
    if (follower !== undefined && withParts.has(follower) && !followers.has(follower))
      silent.add(track);
  });
  return [...silent].filter((track) => !heard.has(track)).sort((a, b) => a - b);
}

/** How a piece is laid out in the tracks of its file, as its delivery asks. */
export function layoutOf({ score, delivery }: Piece): TrackSelection[] {
  const byTrack = new Map<number, number[]>();
  score.parts.forEach((part, i) => {
    if (!isIn(part)) return;
    const there = byTrack.get(part.track);
    if (there) there.push(i);
    else byTrack.set(part.track, [i]);
  });
  const partsOn = (tracks: readonly number[]) =>
    tracks.flatMap((t) => byTrack.get(t) ?? []).sort((a, b) => a - b);
  const all = score.tracks.map((_, i) => i);
  const silenced = new Set(silencedTracks(score));
  const kept = all.filter((t) => !silenced.has(t));
  if (delivery.layout === 'single')
    return [{ tracks: kept, conductorOf: all, parts: partsOn(all) }];
  if (delivery.layout === 'conductor-first') {
    const played = playedTracks(score);
    const plays = new Set(played);
    const silent = kept.filter((t) => !plays.has(t));
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
