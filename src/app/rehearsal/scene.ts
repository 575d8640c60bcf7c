import type { Played } from '../../core/standin/played';
import type { Target } from '../../core/target/schema';
import type { Pen } from './pen';

/** What a device looks like while it plays: drawn from what it played, and from nothing else. */
export interface Scene<S = unknown> {
  /** What is lit, struck or shown at a time; pure. */
  at(us: number): S;
  draw(pen: Pen, state: S): void;
  /** The same in words, for those who cannot see it. */
  describe(state: S): string;
}

export interface SceneDefinition {
  readonly id: string;
  /** What is seen, in a few words. */
  readonly says: string;
  load(played: Played, target: Target): Scene;
}

export const defineScene = <S>(scene: {
  readonly id: string;
  readonly says: string;
  load(played: Played, target: Target): Scene<S>;
}): SceneDefinition => scene as unknown as SceneDefinition;

/** Seconds until a time, as people say it. */
export const inSeconds = (us: number): string => `${(Math.max(0, us) / 1_000_000).toFixed(1)} s`;
