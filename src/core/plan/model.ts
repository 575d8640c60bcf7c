import type { Damage } from '../diagnostic/damage';
import type { SmfHead } from '../smf/file';
import type { PartRef, Score } from '../score/score';

/** The facts of a delivery that are not music; changed by steps like everything else. */
export interface Delivery {
  readonly format: 0 | 1 | 2;
  /**
   * `as-is`: the source's tracks. `single`: all in one. `conductor-first`: tempo, meter, key and
   * markers in a first track of their own, then one track for each that has parts.
   */
  readonly layout: 'as-is' | 'single' | 'conductor-first';
  readonly fileName: string;
  /** The seat of kind `file` that the piece takes, by id. */
  readonly place?: string;
  /** What the target asks to be told, by key: title, declared BPM, kit. */
  readonly metadata?: Metadata;
}

export const METADATA_KEYS = [
  'title',
  'maker',
  'bpm',
  'displayName',
  'kit',
  'frameRate',
  'frameShift',
  'ending',
  'sound',
  'soundMs',
  'rowsPerSecond',
] as const;
export type MetadataKey = (typeof METADATA_KEYS)[number];
export type Metadata = Readonly<Partial<Record<MetadataKey, string>>>;

/** What is shown while a song is sung; it stands at the tick of its first word. */
export interface Caption {
  readonly tick: number;
  /** Lines are parted by a line feed. */
  readonly text: string;
}

/** One piece of what will be delivered. */
export interface Piece {
  readonly score: Score;
  readonly delivery: Delivery;
  /** Flags of a chart, each with the ids of the notes that carry it. */
  readonly flags?: readonly { readonly flag: string; readonly notes: ReadonlySet<number> }[];
  readonly captions?: readonly Caption[];
}

/** What will be delivered; mostly one piece, several where seats are files. */
export interface Rendition {
  readonly pieces: readonly Piece[];
}

/** A source as the engine holds it. */
export interface SourceScore {
  readonly key: string;
  readonly name: string;
  readonly sha256: string;
  readonly head: SmfHead;
  readonly score: Score;
  readonly damage: readonly Damage[];
}

/** How a stored plan names a note. Ticks are those of the source. */
export interface NoteAddress {
  readonly part: PartRef;
  readonly startTick: number;
  readonly noteNumber: number;
  /** Which of several at this tick and key, from 0. */
  readonly occurrence: number;
}

/** What a step is for; empty = everything. Ticks are those of the piece as the step meets it. */
export interface Scope {
  readonly parts?: readonly PartRef[];
  readonly fromTick?: number;
  readonly toTick?: number;
  readonly notes?: readonly NoteAddress[];
  /** Of several pieces only the one that will have this file name. */
  readonly file?: string;
}

export interface StepCall {
  readonly step: string;
  readonly params: unknown;
  readonly scope: Scope;
  readonly on: boolean;
}

/** A step in a plan; its key stays while it is edited or moved. */
export interface PlanStep extends StepCall {
  readonly key: string;
}

export interface Plan {
  readonly steps: readonly PlanStep[];
}

export const EMPTY_PLAN: Plan = { steps: [] };

/** A finding that the user accepts, with the reason; by finding key. */
export interface LeftAsIs {
  readonly key: string;
  readonly reason: string;
}

/** A plan and a target saved for reuse. */
export interface Recipe {
  readonly recipeVersion: 1;
  readonly name: string;
  readonly target: { readonly id: string; readonly version: string };
  readonly plan: Plan;
  readonly leftAsIs: readonly LeftAsIs[];
}

/** What a step did, in counts. */
export interface Effect {
  readonly notesChanged: number;
  readonly notesDropped: number;
  readonly notesAdded: number;
  /** Events that are no notes: changed, moved or taken out. */
  readonly events: number;
  /** In words: "38 notes moved". */
  readonly says: string;
}

/** Calls with what is done so far; throws `Cancelled` when the user has had enough. */
export type Checkpoint = (done: number, total: number) => void;

export class Cancelled extends Error {
  constructor() {
    super('cancelled');
    this.name = 'Cancelled';
  }
}

export const samePart = (a: PartRef, b: PartRef): boolean =>
  a.source === b.source &&
  a.track === b.track &&
  a.channel === b.channel &&
  a.occurrence === b.occurrence;

export const refKey = (ref: PartRef): string =>
  `${ref.source}/${ref.track}/${ref.channel}/${ref.occurrence}`;
