import type { SoundEdit } from './sound-edit';
import type { TimeMap } from '../time/time-map';
import type { PartId, Score } from './score';

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
/** Keys that the desk knows, and those of facts that a target names itself. */
export type Metadata = Readonly<Partial<Record<MetadataKey, string>>> &
  Readonly<Record<string, string | undefined>>;

/** What is shown while a song is sung; it stands at the tick of its first word. */
export interface Caption {
  readonly tick: number;
  /** Lines are parted by a line feed. */
  readonly text: string;
}

/** A flag of a chart, with the ids of the notes that carry it. */
export interface NoteFlag {
  readonly flag: string;
  readonly notes: ReadonlySet<number>;
}

/** How a part is delivered as a strand of cues. */
export interface StrandChoice {
  readonly part: PartId;
  readonly name: string;
  readonly kind: 'instant' | 'span';
  readonly value: 'note-name' | 'note-number' | 'velocity' | 'length' | 'none';
}

/** A link of a chain: a pattern, how often, shifted, with the voices (from 1) that sound. */
export interface ChainLink {
  readonly pattern: string;
  readonly repeats: number;
  readonly shift: number;
  readonly voices: readonly number[];
}

/** One piece of what will be delivered. */
export interface Piece {
  /** The piece of the base that it was made of; none for the first. */
  readonly base?: number;
  readonly score: Score;
  readonly delivery: Delivery;
  readonly flags?: readonly NoteFlag[];
  readonly captions?: readonly Caption[];
  /** By part; what is not said is an instant with its note number. */
  readonly strands?: readonly StrandChoice[];
  /** The order in which the patterns of the delivery are played; every piece has the same. */
  readonly chain?: readonly ChainLink[];
  /** What was done to the sound that plays beside it, one change on top of the other. */
  readonly sound?: readonly SoundEdit[];
  /** Some step took the sound along with the score: it lies no more beside the music as it came. */
  readonly soundMoved?: true;
  /** Where the ticks of the base went, through every step so far; none where none moved time. */
  readonly fromBase?: TimeMap;
}

/** What will be delivered; mostly one piece, several where seats are files. */
export interface Rendition {
  readonly pieces: readonly Piece[];
}
