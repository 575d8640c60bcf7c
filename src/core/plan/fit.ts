import { comparePieces } from '../compare/by-id';
import { proof, tallyOf, type Tally } from '../rules/proof';
import type { Target } from '../target/schema';
import { mendMany, touched } from './mend';
import type { Checkpoint, Plan, SourceScore } from './model';
import { runPlan } from './run';

/** How one source fits one target, and what it would take. */
export interface Fit {
  readonly now: Tally;
  /** After every mend that there is, applied to a copy. */
  readonly mended: Tally;
  readonly mends: number;
  readonly lossy: number;
  /** Notes that the mends change beyond a shift of all, drop or add. */
  readonly notesChanged: number;
  readonly notes: number;
}

export interface FitInput {
  readonly source: SourceScore;
  readonly target: Target;
  readonly plan: Plan;
  readonly checkpoint?: Checkpoint;
}

/** Tries a source on a target: holds it against the rules, then mends a copy and holds it again. */
export function fitOf({ source, target, plan, checkpoint }: FitInput): Fit {
  const steps = checkpoint ? { checkpoint } : {};
  const { rendition } = runPlan({ source, target, plan, ...steps });
  const now = tallyOf(proof({ rendition, target, source, ...steps }));
  const done = mendMany({ rendition, target, source, losslessOnly: false, ...steps });
  const before = rendition.pieces[0]!.score;
  const after = done.rendition.pieces.map((p) => p.score);
  return {
    now,
    mended: tallyOf(done.findings),
    mends: done.applied.length,
    lossy: done.applied.filter((a) => !a.lossless).length,
    notesChanged: touched(comparePieces(before, after)),
    notes: before.parts.reduce((n, p) => n + (p.leftOut ? 0 : p.notes.count), 0),
  };
}
