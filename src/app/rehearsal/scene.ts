import type { Played } from '../../core/standin/played';
import type { Target } from '../../core/target/schema';
import type { Doing, Hands, Pressed } from './hands/hands';
import type { Pen } from './pen';

/** The hands at the device, as a scene shows them. */
export interface HandsSeen {
  readonly hands: Hands;
  /** Time of the device. */
  readonly us: number;
  readonly held: ReadonlySet<string>;
  readonly last: Pressed | null;
  /** The key that does it, as it stands on it. */
  keyOf(doing: Doing): string;
}

/** What of a device can be taken in hand: a side, a rung, all of it. */
export interface Choice {
  readonly id: string;
  readonly says: string;
}

export interface Takes {
  readonly says: string;
  choices?(played: Played, target: Target): readonly Choice[];
  /** Null where there is nothing to do. */
  load(played: Played, target: Target, choice: string | null): Hands | null;
}

/** What a device looks like while it plays: drawn from what it played, and from nothing else. */
export interface Scene<S = unknown> {
  /** What is lit, struck or shown at a time; pure. */
  at(us: number): S;
  draw(pen: Pen, state: S, hands: HandsSeen | null): void;
  /** What a pointer would do there: a doing by its id, or `dial`. */
  under?(x: number, y: number, w: number, h: number): string | null;
  /** The same in words, for those who cannot see it. */
  describe(state: S): string;
}

export interface SceneDefinition {
  readonly id: string;
  /** What is seen, in a few words. */
  readonly says: string;
  /** @param file the one whose piece the pulse plays, where the device plays each for itself */
  load(played: Played, target: Target, file?: string | null): Scene;
  /** Where it can be played with the hands. */
  readonly takes?: Takes;
}

export const defineScene = <S>(scene: {
  readonly id: string;
  readonly says: string;
  readonly takes?: Takes;
  load(played: Played, target: Target, file?: string | null): Scene<S>;
}): SceneDefinition => scene as unknown as SceneDefinition;

/** Seconds until a time, as people say it. */
export const inSeconds = (us: number): string => `${(Math.max(0, us) / 1_000_000).toFixed(1)} s`;
