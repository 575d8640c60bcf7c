import type { PartRef } from './score';

/** How a stored plan names a note. Ticks are those of the source that the part is of. */
export interface NoteAddress {
  readonly part: PartRef;
  readonly startTick: number;
  readonly noteNumber: number;
  /** Which of several at this tick and key, from 0. */
  readonly occurrence: number;
}

export const samePart = (a: PartRef, b: PartRef): boolean =>
  a.source === b.source &&
  a.track === b.track &&
  a.channel === b.channel &&
  a.occurrence === b.occurrence;

export const refKey = (ref: PartRef): string =>
  `${ref.source}/${ref.track}/${ref.channel}/${ref.occurrence}`;
