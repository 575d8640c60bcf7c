import type { Checkpoint } from '../diagnostic/checkpoint';
import { soundFeatures } from './align/features';
import type { Features } from './align/frames';
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
  /** What sounds, frame by frame: by it a score is found in it. */
  readonly features: Features;
  readonly beat: BeatEstimate | null;
}

/** Measures a recording: linear but for n log n of its windows. */
export function factsOf(samples: Samples, checkpoint?: Checkpoint): SoundFacts {
  const first: Checkpoint | undefined =
    checkpoint && ((done, total) => checkpoint(done / 2, total));
  const later: Checkpoint | undefined =
    checkpoint && ((done, total) => checkpoint((total + done) / 2, total));
  const novelty = noveltyOf(samples, first);
  return {
    ...levelOf(samples),
    lengthMs: lengthMs(samples),
    rate: samples.rate,
    channels: samples.channels.length,
    onsets: onsetsOf(samples, novelty),
    features: soundFeatures(samples, later),
    beat: beatsOf(novelty),
  };
}
