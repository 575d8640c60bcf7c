export type { Schedule } from '../sound/schedule';
import type { Delivery } from '../score/piece';
import type { Inventory } from '../score/inventory';
import type { PartRef } from '../score/score';
import type { Division, SequenceHead } from '../smf/file';
import type { MeterEvent } from '../time/meter-map';
import type { TempoEvent } from '../time/tempo-map';
import type { SoundEdit } from '../sound/edits';
import type { TimeMap } from '../time/time-map';

/** What the screen holds of a piece: plain data that crosses to it, columns as transferred copies. */
export interface PieceView {
  readonly division: Division;
  readonly tempos: readonly TempoEvent[];
  readonly meters: readonly MeterEvent[];
  readonly markers: readonly { readonly tick: number; readonly text: string }[];
  readonly endTick: number;
  readonly firstTick: number | null;
  readonly delivery: Delivery;
  /** Where the base's ticks went; none where none moved. */
  readonly fromBase: TimeMap | null;
  /** What the plan does to the companion sound. */
  readonly sound: readonly SoundEdit[];
  readonly captions: readonly { readonly tick: number; readonly text: string }[];
  readonly parts: readonly PartView[];
}

export interface PartView {
  readonly id: string;
  readonly ref: PartRef;
  readonly name: string;
  /** From 0. */
  readonly track: number;
  readonly channel: number;
  /** 0–127; null where none is set. */
  readonly program: number | null;
  readonly leftOut: boolean;
  readonly seat: string | null;
  readonly lowest: number;
  readonly highest: number;
  /** The longest note, in ticks: how far back a row has to look. */
  readonly longest: number;
  readonly columns: NoteView;
  /** What it has beside notes; null where there is nothing. */
  readonly turns: TurnsView | null;
}

/** Presets and curves of a part, in the order of time. */
export interface TurnsView {
  readonly key: number;
  readonly presets: {
    readonly tick: Int32Array;
    readonly bank: Uint8Array;
    readonly program: Uint8Array;
  };
  readonly curves: readonly CurveView[];
}

export interface CurveView {
  /** Status without the channel; the number is that of a controller, 0 for what has none. */
  readonly kind: number;
  readonly number: number;
  readonly tick: Int32Array;
  readonly value: Uint16Array;
}

export interface NoteView {
  /** The same number, the same columns: the screen keeps them and they are not sent again. */
  readonly key: number;
  readonly count: number;
  readonly start: Int32Array;
  readonly end: Int32Array;
  readonly noteNumber: Uint8Array;
  readonly velocity: Uint8Array;
  readonly id: Uint32Array;
  readonly origin: Uint32Array;
}

/** A piece as it crosses: columns that the screen already has are named by their key alone. */
export interface PieceWire extends Omit<PieceView, 'parts'> {
  readonly parts: readonly (Omit<PartView, 'columns' | 'turns'> & {
    readonly columns: NoteView | number;
    readonly turns: TurnsView | number | null;
  })[];
}

export interface SourceView {
  /** Format 2: which sequence was taken, from 0. */
  readonly sequence?: number;
  readonly sequences?: readonly SequenceHead[];
  /** Which reading of the bytes was asked for (`whichKey`). */
  readonly asked?: string;
  readonly sha256: string;
  readonly name: string;
  readonly bytes: number;
  readonly inventory: Inventory;
  /** Whole sentences. */
  readonly damage: readonly string[];
  readonly trackNames: readonly (string | null)[];
  /** The target that a source of our own format was written for, by its id. */
  readonly meantFor?: string;
  /** Its format, where it is a module. */
  readonly module?: string;
  /** The target of somebody's own that it was read by a format of, by its name. */
  readonly readAs?: string;
}
