import type { HeardNotes } from '../../reading/heard-notes';
import type { Maps } from '../../score/inventory';
import type { Piece } from '../../score/piece';
import type { Target } from '../../target/schema';

/** What one file is written of. */
export interface World {
  readonly piece: Piece;
  readonly target: Target;
  readonly maps: Maps;
  readonly ppq: number;
  readonly endTick: number;
  readonly notes: HeardNotes;
  /** Flags of a note by its id. */
  readonly flags: ReadonlyMap<number, readonly string[]>;
  readonly facts: ReadonlyMap<string, string>;
  /** Grids that were laid already, by the notes on them and by their cells. */
  readonly grids: Map<readonly number[], Map<string, Grid>>;
  /** How many rows of a kind there are, of those that were counted. */
  readonly counts: Map<string, number>;
}

/** Notes on a grid of cells, each at the cell that is nearest to its beginning. */
export interface Grid {
  readonly count: number;
  /** The first cell of a bar, from 0; all of them where it is past the last. */
  readonly firstOf: (bar: number) => number;
  readonly tickAt: (cell: number) => number;
  /** Notes that begin in a cell. */
  readonly struck: ReadonlyMap<number, readonly number[]>;
  /** What a cell holds of one key, or of all. */
  readonly stateAt: (cell: number, key?: number) => 'yes' | 'no' | 'held' | 'last';
}
