import type { Checkpoint } from '../diagnostic/checkpoint';
import { beatsOf, type BeatEstimate } from './beat';
import { levelOf, type LevelFacts } from './level';
import { noveltyOf, onsetsOf, type Onsets } from './onsets';
import { lengthMs, type Samples } from './samples';

/** What is known of a recording once it was measured. */
export interface SoundFacts extends LevelFacts {
  readonly lengthMs: number;
  readonly rate: number;
  readonly channels: number;
  readonly onsets: Onsets;
  readonly beat: BeatEstimate | null;
}

/** Measures a recording: linear but for n log n of its windows. */
export function factsOf(samples: Samples, checkpoint?: Checkpoint): SoundFacts {
  const novelty = noveltyOf(samples, checkpoint);
  return {
    ...levelOf(samples),
    lengthMs: lengthMs(samples),
    rate: samples.rate,
    channels: samples.channels.length,
    onsets: onsetsOf(samples, novelty),
    beat: beatsOf(novelty),
  };
}
