import type { NoteAddress } from '../score/address';
import type { PartRef } from '../score/score';

/**
 * What a step is for; empty = everything. Ticks are those of the base: they are carried through the
 * steps before, so that a scope stays with its music when an earlier step is switched off.
 */
export interface Scope {
  readonly parts?: readonly PartRef[];
  readonly fromTick?: number;
  readonly toTick?: number;
  /** Several stretches, in the place of one. */
  readonly stretches?: readonly { readonly fromTick: number; readonly toTick: number }[];
  /** The ticks are those of the piece as the step meets it: so plans of 0.2 counted. */
  readonly met?: boolean;
  readonly notes?: readonly NoteAddress[];
  /** Of several pieces only the one that will have this file name. */
  readonly file?: string;
}

/** How far down a step can be held: to whole pieces, parts, a stretch of parts, single notes. */
export const REACHES = ['piece', 'parts', 'stretch', 'notes'] as const;
export type Reach = (typeof REACHES)[number];

export interface StepCall {
  readonly step: string;
  readonly params: unknown;
  readonly scope: Scope;
  readonly on: boolean;
}

/** What a step did, in counts. */
export interface Effect {
  readonly notesChanged: number;
  readonly notesDropped: number;
  readonly notesAdded: number;
  /** Events that are no notes: changed, moved or taken out. */
  readonly events: number;
  /** In words: "38 notes moved". */
  readonly says: string;
}
