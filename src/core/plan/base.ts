import type { Rendition } from '../score/piece';
import { makeBase, type Base } from '../sources/merge';
import type { SourceScore } from '../sources/source';
import type { SourceUse } from '../sources/use';
import type { Target } from '../target/schema';
import { seatByDefault } from './seating';

/** The rendition before any step: what came, with its default seating. */
export function baseRendition(base: Base, target: Target): Rendition {
  return {
    pieces: base.rendition.pieces.map((piece) => ({
      ...piece,
      score: seatByDefault(piece.score, target),
    })),
  };
}

/** A job's sources as one; most jobs have one, and its score is not touched. */
export const baseOf = (
  source: SourceScore | readonly SourceScore[],
  uses?: readonly SourceUse[],
): Base => makeBase(Array.isArray(source) ? source : [source as SourceScore], uses);
