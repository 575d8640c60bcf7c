import type { Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn } from '../score/score';
import type { Target } from '../target/schema';
import { rowAt, rowRateOf } from './rows';

export interface Hole {
  readonly row: number;
  /** Index of the rank. */
  readonly rank: number;
  readonly key: number;
}

export interface Holes {
  /** Rows a second. */
  readonly rate: number;
  readonly ranks: readonly { readonly id: string; readonly name: string }[];
  /** The pipes of every rank, lowest first. */
  readonly pipes: readonly number[];
  /** By row, rank and key; each once. */
  readonly holes: readonly Hole[];
  readonly rows: number;
  /** Notes that have no pipe, and notes that fall on the hole of another. */
  readonly noPipe: number;
  readonly shared: number;
}

/** The strip that a piece becomes. */
export function holesOf(piece: Piece, maps: Maps, { seats, notes, grid }: Target): Holes {
  const rate = rowRateOf(piece, maps, grid) ?? 8;
  const pipes = [...(notes?.only ?? [])].sort((a, b) => a - b);
  const known = new Set(pipes);
  const found = new Map<number, Hole>();
  let noPipe = 0;
  let shared = 0;
  for (const part of piece.score.parts) {
    if (!isIn(part)) continue;
    const rank = seats.findIndex((s) => s.id === part.seat);
    for (let i = 0; i < part.notes.count; i++) {
      const key = part.notes.noteNumber[i]!;
      if (rank < 0 || (pipes.length > 0 && !known.has(key))) {
        noPipe++;
        continue;
      }
      const row = rowAt(maps, rate, part.notes.start[i]!);
      const place = (row * 128 + rank) * 128 + key;
      if (found.has(place)) shared++;
      else found.set(place, { row, rank, key });
    }
  }
  const holes = [...found].sort(([a], [b]) => a - b).map(([, hole]) => hole);
  return {
    rate,
    ranks: seats.map(({ id, name }) => ({ id, name })),
    pipes: pipes.length > 0 ? pipes : [...new Set(holes.map((h) => h.key))].sort((a, b) => a - b),
    holes,
    rows: (holes.at(-1)?.row ?? -1) + 1,
    noPipe,
    shared,
  };
}
