import type { Checkpoint } from '../diagnostic/checkpoint';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { endTickOf } from '../score/score';
import { heardFeatures, type Features } from '../sound/align/frames';
import { cameFrom } from '../time/came-from';
import type { Clock } from '../time/tempo-map';
import type { Base } from './merge';
import { ownFeatures } from './module/own-features';

/** Its last notes sound on. */
const BEHIND_MS = 1000;

/**
 * What a piece sounds like, as its plan leaves its time, where its source has a sound of its own: of a
 * module. Worked out when it is asked for; null of one that is too long to be mixed.
 */
export function likeOf(
  { uses, rendition }: Base,
  piece: Piece,
  clock: Clock,
  checkpoint?: Checkpoint,
): (() => Features | null) | undefined {
  const module = uses.find((u) => u.as === 'together')?.source.extras?.module;
  const [came] = rendition.pieces;
  if (!module || !came || piece.base !== undefined) return undefined;
  return () => {
    const own = ownFeatures(module, checkpoint);
    const before = { ...came, clock: mapsOf(came.score).clock };
    const endMs = clock.msAt(endTickOf(piece.score)) + BEHIND_MS;
    return own && heardFeatures(own, endMs, cameFrom({ ...piece, clock }, before));
  };
}
