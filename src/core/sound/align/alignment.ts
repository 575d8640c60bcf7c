import type { MatchedPair } from './refine';

/** Why a place is not sure: another song; too little of it; it repeats itself; few beginnings. */
export type Doubt = 'other' | 'little' | 'repeats' | 'sparse';

/** A place at which one goes on elsewhere than the other, milliseconds of both. */
export interface Jump {
  readonly scoreFromMs: number;
  readonly scoreToMs: number;
  readonly soundFromMs: number;
  readonly soundToMs: number;
  /** By how much the sound is later than the score before it and behind it. */
  readonly beforeMs: number;
  readonly afterMs: number;
}

/** Where a recording lies beside a score. */
export interface Alignment {
  /** The simplest that explains it: one offset, one tempo, or a tempo that wanders. */
  readonly kind: 'offset' | 'tempo' | 'wander';
  /** Sound time is `offsetMs + ratio × score time`, of the longest stretch. */
  readonly offsetMs: number;
  readonly ratio: number;
  /** Of the same stretch: the one offset that most places have, and the straight line through them. */
  readonly offset: number;
  readonly line: { readonly offset: number; readonly ratio: number };
  /** From 0 to 1; calibrated: see `sureOf`. */
  readonly confidence: number;
  /** How many of the score’s moments meet an onset where they are expected. */
  readonly share: number;
  /** How much of the score goes along with the sound, by the clock. */
  readonly covered: number;
  /** How much better than the best wrong way, and than the best other place; −1 to 1. */
  readonly better: { readonly song: number; readonly place: number };
  readonly places: readonly MatchedPair[];
  readonly jumps: readonly Jump[];
  /** Why it is not sure; null where it is. */
  readonly doubt: Doubt | null;
}

/** The same alignment of a score that begins so much later. */
export function scoreLater(a: Alignment, ms: number): Alignment {
  if (ms === 0) return a;
  return {
    ...a,
    // Of a tempo that wanders it is where both begin.
    offsetMs: a.offsetMs - (a.kind === 'tempo' ? a.ratio : 1) * ms,
    offset: a.offset - ms,
    line: { offset: a.line.offset - a.line.ratio * ms, ratio: a.line.ratio },
    places: a.places.map((p) => ({ ...p, scoreMs: p.scoreMs + ms })),
    jumps: a.jumps.map((j) => ({
      ...j,
      scoreFromMs: j.scoreFromMs + ms,
      scoreToMs: j.scoreToMs + ms,
      beforeMs: j.beforeMs - ms,
      afterMs: j.afterMs - ms,
    })),
  };
}
