import type { Piece, StrandChoice } from '../score/piece';
import { isIn, type Part } from '../score/score';

/** How a part is delivered as a strand: as was chosen, else an instant with its note number. */
export const strandOf = ({ strands }: Piece, part: Part): StrandChoice =>
  strands?.find((s) => s.part === part.id) ?? {
    part: part.id,
    name: part.name,
    kind: 'instant',
    value: 'note-number',
  };

/** Parts that become strands. */
export const strandParts = ({ score }: Piece): Part[] =>
  score.parts.filter((p) => isIn(p) && p.notes.count > 0);
