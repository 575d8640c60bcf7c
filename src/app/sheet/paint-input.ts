import type { LaidPiece } from '../stores/job';
import type { Ghost } from './ghosts';
import type { Wave } from './wave';
import type { Ink } from './inks';
import type { Band, Row, SheetLayout } from './layout';

/** What a target calls its presets, and which of its curves are switches. */
export interface Turned {
  readonly presetName: (bank: number, program: number) => string | null;
  /** Whether a target listens to a curve at all; what it does not hear lies faint. */
  readonly hears: (kind: number, number: number) => boolean;
  readonly isSwitch: (kind: number, number: number) => boolean;
  /** Shown under notes too: the target listens to what is no note. */
  readonly listens: boolean;
}

export interface Ground {
  readonly fromTick: number;
  readonly toTick: number;
  /** In words, the fullest first; the longest that has room is written. */
  readonly says: readonly string[];
}

export interface PaintInput {
  readonly context: CanvasRenderingContext2D;
  readonly layout: SheetLayout;
  readonly row: Row;
  readonly piece: LaidPiece;
  readonly bands: readonly Band[];
  readonly inks: readonly Ink[];
  readonly light: 'paper' | 'booth';
  /** Ids of notes that are chosen or named by the finding that is open. */
  readonly chosen: ReadonlySet<number>;
  readonly spans: readonly { readonly fromTick: number; readonly toTick: number }[];
  readonly ground: readonly Ground[];
  /** Where notes were that the mend which is looked at would change. */
  readonly ghosts: readonly Ghost[];
  /** The keys that the target has; what is outside is hatched where notes stand there. */
  readonly wave: Wave | null;
  /** Keys are pitches here; lanes of a game are none. */
  readonly pitched: boolean;
  readonly range: { readonly lowest: number; readonly highest: number } | null;
  /** Presets, switches and levels, as the target has them. */
  readonly turned: Turned;
}
