import type { Piece } from '../score/piece';
import { isIn } from '../score/score';
import type { Target } from '../target/schema';

/**
 * A piece as the target's own data has it written: where velocity is not kept, every note carries
 * the one that the target delivers.
 */
export function asDelivered(piece: Piece, { velocity }: Target): Piece {
  const as = velocity?.deliveredAs;
  if (as === undefined) return piece;
  const parts = piece.score.parts.map((part) => {
    if (!isIn(part) || part.notes.velocity.every((v) => v === as)) return part;
    return { ...part, notes: { ...part.notes, velocity: part.notes.velocity.map(() => as) } };
  });
  return { ...piece, score: { ...piece.score, parts } };
}

/** Notes whose own velocity is not kept. */
export function velocitiesLost(piece: Piece, { velocity }: Target): number {
  const as = velocity?.deliveredAs;
  if (as === undefined) return 0;
  let lost = 0;
  for (const { notes, leftOut } of piece.score.parts)
    for (let i = 0; i < notes.count && !leftOut; i++) if (notes.velocity[i] !== as) lost++;
  return lost;
}
