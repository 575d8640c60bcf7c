import type { SoundLayout } from '../../core/sound/edits';
import type { Samples } from '../../core/sound/samples';
import type { Strike } from './worklet/striker';

/** Messages between the player and its worklet. Times in milliseconds of the piece. */
export type ToWorklet =
  | { is: 'bank'; bytes: ArrayBuffer }
  | {
      is: 'schedule';
      count: number;
      ms: Float64Array;
      status: Uint8Array;
      data1: Uint8Array;
      data2: Uint8Array;
      part: Uint32Array;
      endMs: number;
      /** Where to go on, where the music plays already. */
      atMs: number;
    }
  | { is: 'play'; atMs: number }
  | { is: 'stop' }
  /** 1 = as written; the pitch stays. */
  | { is: 'speed'; ratio: number }
  /** Stretches that follow each other round and round. */
  | { is: 'loop'; loops: readonly { from: number; to: number }[] }
  | { is: 'no-loop' }
  /** 1 for each part that is not to be heard. */
  | { is: 'mutes'; muted: Uint8Array }
  /** The recording that sounds beside the score, as it lies on its clock; null for none. */
  | { is: 'recording'; samples: Samples | null; layout: SoundLayout }
  /** How loud each is, 1 as it is. */
  | { is: 'levels'; score: number; recording: number }
  /** Single notes, beside the music: in place of those that wait, or added from a moment on. */
  | { is: 'strike'; list: readonly Strike[]; fromSeconds?: number };

export type FromWorklet =
  | { is: 'ready' }
  /** The bytes are no sound bank; what was there before goes on sounding. */
  | { is: 'refused'; why: string }
  | { is: 'at'; ms: number; contextTime: number; playing: boolean }
  | { is: 'end' };
