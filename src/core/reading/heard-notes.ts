import { sortByKey } from '../score/columns';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';
import { deliveredEnd } from './ends';
import { heardEnds } from './heard-ends';

/** The notes of a delivery in one list, by start and then key; ends are those the far side hears. */
export interface HeardNotes {
  readonly count: number;
  readonly parts: readonly Part[];
  readonly start: Int32Array;
  readonly end: Int32Array;
  readonly key: Uint8Array;
  readonly velocity: Uint8Array;
  readonly id: Uint32Array;
  /** Index into `parts`. */
  readonly part: Int32Array;
}

/** @param of only these parts; all that are delivered where not said */
export function heardNotes(piece: Piece, of?: readonly Part[]): HeardNotes {
  const parts = of ?? piece.score.parts.filter(isIn);
  // Parts that are asked for by themselves are told apart from all others, whatever their track.
  const ends = heardEnds(of ? { ...piece, score: { ...piece.score, parts: of } } : piece);
  const last = deliveredEnd(piece);
  const count = parts.reduce((n, p) => n + p.notes.count, 0);
  const startOf = new Int32Array(count);
  const endOf = new Int32Array(count);
  const from = new Int32Array(count);
  const index = new Int32Array(count);
  const order = new Float64Array(count);
  let at = 0;
  parts.forEach((part, p) => {
    const { notes } = part;
    const partEnds = ends(part);
    for (let i = 0; i < notes.count; i++, at++) {
      startOf[at] = notes.start[i]!;
      // What no note-off is left for sounds to the end.
      endOf[at] = Math.min(partEnds[i]!, Math.max(last, notes.start[i]!));
      from[at] = p;
      index[at] = i;
      order[at] = notes.start[i]! * 128 + notes.noteNumber[i]!;
    }
  });
  const sorted = sortByKey(order);
  const out = {
    count,
    parts,
    start: new Int32Array(count),
    end: new Int32Array(count),
    key: new Uint8Array(count),
    velocity: new Uint8Array(count),
    id: new Uint32Array(count),
    part: new Int32Array(count),
  };
  for (let k = 0; k < count; k++) {
    const i = sorted[k]!;
    const { notes } = parts[from[i]!]!;
    out.start[k] = startOf[i]!;
    out.end[k] = endOf[i]!;
    out.key[k] = notes.noteNumber[index[i]!]!;
    out.velocity[k] = notes.velocity[index[i]!]!;
    out.id[k] = notes.id[index[i]!]!;
    out.part[k] = from[i]!;
  }
  return out;
}
