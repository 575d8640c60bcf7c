import type { KnownModule } from '../module/known';
import type { Damage } from '../../diagnostic/damage';
import type { Caption, Metadata } from '../../score/piece';
import type { Fault } from '../../score/gate';
import type { SmfFile } from '../../smf/file';

/** What a format of ours tells beside the music. */
export interface SourceExtras {
  /** The target that it was written for, by its id. */
  readonly meantFor?: string;
  readonly metadata?: Metadata;
  readonly captions?: readonly Caption[];
  /** The module that it was read from. */
  readonly module?: KnownModule;
  /** What its format tells and a score does not carry. */
  readonly left?: readonly { readonly what: string; readonly count: number }[];
  /** Tracks from 0 as read, channels from 1. */
  readonly flags?: readonly {
    readonly flag: string;
    readonly track: number;
    readonly channel: number;
    readonly tick: number;
    readonly key: number;
  }[];
}

export type MadeScore =
  | {
      readonly file: SmfFile;
      readonly extras: SourceExtras;
      readonly doubts: readonly Fault[];
    }
  | { readonly fault: Fault };

/** Reads a format of ours as a score. */
export interface SourceReader {
  readonly id: string;
  readonly suits: (text: string) => boolean;
  readonly read: (text: string) => MadeScore;
}

export const toDamage = (code: Damage['code'], { place, says }: Fault): Damage => ({
  code,
  byteOffset: 0,
  track: null,
  times: 1,
  place,
  says,
});
