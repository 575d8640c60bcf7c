import { gatherLosses } from '../core/handover/receipt';
import { sayKind } from '../core/diagnostic/words';
import type { MendTrial } from '../core/plan/trial';

/** What a mend would do, as the screen shows it. */
export const trialView = (trial: MendTrial) => ({
  lossless: trial.lossless,
  notesTouched: trial.notesTouched,
  notesDropped: trial.notesDropped,
  cost: trial.cost,
  shiftMs: trial.shiftMs,
  costs: trial.costs,
  says: trial.says,
  losses: gatherLosses(trial.losses).map(({ count, what }) => sayKind(count, what)),
  refused: trial.refused,
});
