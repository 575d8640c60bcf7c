import type { PartRef } from '../core/score/score';
import type { SoundFacts } from '../core/sound/facts';
import type { Jump } from '../core/sound/align/alignment';
import type { Doubt } from '../core/sound/align/alignment';
import type { Features } from '../core/sound/align/frames';
import type { Onsets } from '../core/sound/onsets';
import type { Peaks } from '../core/sound/peaks';
import type { Samples } from '../core/sound/samples';
import type { LinkHeard } from '../core/standin/link';
import type { RunRequest, SourceRef } from './run-protocol';

/** Of what crosses to the worker all that is of sounds. */

/** A recording: as it came, or decoded where only the browser can do that. */
export interface ListenRequest {
  readonly bytes: ArrayBuffer;
  readonly samples?: Samples;
}

export type ListenReply =
  | {
      readonly ok: true;
      readonly sha256: string;
      readonly facts: SoundFacts;
      readonly peaks: Peaks;
      readonly samples: Samples;
      /** Whole sentences: what may be missing in it. */
      readonly doubts: readonly string[];
    }
  | { readonly ok: false; readonly problem: string };

export interface LineUpRequest {
  /** Notes on the score’s clock, in any order: begin, end, key, velocity; drums have the key + 128. */
  readonly fromMs: Float64Array;
  readonly toMs: Float64Array;
  readonly key: Uint8Array;
  readonly velocity: Uint8Array;
  readonly scoreMs: number;
  /** As the recording is heard now, after its edits. */
  readonly onsets: Onsets;
  readonly features: Features;
  /**
   * The module that the score was read from, and where each frame of the score stood in it, in
   * milliseconds; not a number where nothing did.
   */
  readonly module?: { readonly source: SourceRef; readonly cameMs: Float64Array };
  /** Told as one offset, as one tempo, or note by note; the simplest that explains it where not said. */
  readonly how: How | null;
}

export type How = 'offset' | 'tempo' | 'freely';

export type LineUpReply = {
  readonly how: How;
  readonly offsetMs: number;
  /** Null where there is no one tempo. */
  readonly ratio: number | null;
  readonly share: number;
  readonly confidence: number;
  readonly pairs: readonly { readonly scoreMs: number; readonly soundMs: number }[];
  readonly jumps: readonly Jump[];
  /** Why it is not sure; null where it is. */
  readonly doubt: Doubt | null;
} | null;

/** The far end of the sound link: what it hears of the delivered sound, or of a microphone. */
export interface ReceiveRequest extends RunRequest {
  /** One channel; none for the sound that would be delivered. */
  readonly samples: Float32Array | null;
  readonly rate: number;
  /** Frames that came through before, by their numbers. */
  readonly memory: readonly (readonly [number, Uint8Array])[];
}
export interface ReceiveReply {
  /** What was listened to, where it was the delivered sound; null where none is delivered. */
  readonly sound: { readonly samples: Float32Array; readonly rate: number } | null;
  readonly heard: LinkHeard;
  readonly memory: readonly (readonly [number, Uint8Array])[];
}

/** A sound that is made of the score, or beside the recording. */
export type Making =
  | { readonly is: 'click'; readonly countIn: number }
  | { readonly is: 'click-beside' }
  | { readonly is: 'guide'; readonly bank: ArrayBuffer };

export interface MakeSoundRequest extends RunRequest {
  readonly make: Making;
  /** The recording, where one is there: a guide is as long as it is asked for. */
  readonly samples?: Samples;
  readonly length: 'score' | 'recording';
  readonly bits: 16 | 24;
}

export interface LoudnessRequest extends RunRequest {
  readonly part: PartRef;
  readonly fromMs: number;
  readonly toMs: number;
  /** By its name a bank is known again; its bytes are sent where it is not. */
  readonly bankName: string;
  readonly bank?: ArrayBuffer;
}

export interface MadeSound {
  readonly bytes: Uint8Array;
  readonly ms: number;
  /** Samples that were too loud. */
  readonly clipped: number;
}

/** One sample of a module alone. */
export interface SampleSoundRequest {
  readonly source: SourceRef;
  readonly sample: number;
  readonly key: number;
  readonly rate: number;
}
export interface ModuleWaveRequest {
  readonly source: SourceRef;
  readonly rate: number;
  readonly between: 'linear' | 'cubic';
  /** How much of hard left and right is taken back: 0 to 1. */
  readonly softened: number;
}
export type ModuleWaveReply = { readonly bytes: Uint8Array } | { readonly problem: string };
