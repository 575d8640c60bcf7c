import type { Stage } from './stages';

/** The rules whose findings a stage is there to settle; Proof has them all. */
export const STAGE_RULES: Partial<Record<Stage, ReadonlySet<string>>> = {
  intake: new Set(['damage']),
  seating: new Set(['seating']),
  timing: new Set([
    'tempo-absent',
    'meter-absent',
    'tempo-constant',
    'tempo-range',
    'tempo-count',
    'meter-constant',
    'ppq',
    'clock-time',
    'start-rest',
    'first-note',
  ]),
};
