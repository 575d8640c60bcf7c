import type { Target } from '../core/target/schema';
import type { Receipt } from '../core/handover/receipt';
import type { SongFacts } from '../core/sets/song-facts';
import type { HandoverRequest, SourceRef } from './run-protocol';

/** A song of a set: to be known, or to go out. */
export interface SongRequest extends Omit<HandoverRequest, 'handover'> {
  /** What its files are called in the set. */
  readonly name?: string;
}

export interface SongReply {
  readonly facts: SongFacts;
  readonly receipt: Receipt;
  readonly files: readonly { readonly path: string; readonly bytes: Uint8Array }[];
  /** What the device refuses and no finding explains. */
  readonly unexplained: readonly string[];
}

/** A song as it lies on a card, to be rehearsed from there. */
export interface CardSongRequest {
  readonly key: string;
  readonly target: Target;
  readonly files: readonly { readonly path: string; readonly bytes: Uint8Array }[];
}
/** What the device does with it. */
export interface CardSongReply {
  readonly key: string;
  readonly lengthMs: number;
  readonly events: number;
  /** Why it would not load, or would leave out; the first of them. */
  readonly refused: readonly string[];
  readonly dropped: number;
}

export interface MatchRequest {
  readonly files: readonly SourceRef[];
  readonly songs: readonly { readonly key: string; readonly source: SourceRef }[];
}
