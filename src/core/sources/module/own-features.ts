import type { Checkpoint } from '../../diagnostic/checkpoint';
import { soundFeatures } from '../../sound/align/features';
import { standingOut, type Features } from '../../sound/align/frames';
import type { KnownModule } from './known';
import { mix, tooLongToMix } from './mix';
import type { Performance } from './strikes';

/** What is heard above half of it is not looked at. */
const RATE = 22_050;
const SIDES_SOFTENED = 0.5;

/** By what was played: it is the same whichever way its notes are read. */
const made = new WeakMap<Performance, Features>();

/**
 * What a module sounds like as its machine plays it, frame by frame: samples sound at pitches of their
 * own, which its notes do not tell. Null of one that is too long to be mixed.
 */
export function ownFeatures(known: KnownModule, checkpoint?: Checkpoint): Features | null {
  const before = made.get(known.played);
  if (before) return before;
  if (tooLongToMix(known, RATE) !== null) return null;
  const half = (from: number): Checkpoint | undefined =>
    checkpoint && ((done, total) => checkpoint(from + (0.5 * done) / Math.max(1, total), 1));
  const sound = mix(known, {
    rate: RATE,
    between: 'linear',
    softened: SIDES_SOFTENED,
    ...(checkpoint ? { checkpoint: half(0)! } : {}),
  });
  const features = standingOut(soundFeatures(sound, half(0.5)));
  made.set(known.played, features);
  return features;
}
