import { gatherLosses } from '../core/handover/receipt';
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
  losses: gatherLosses(trial.losses).map(({ count: n, what }) =>
    n === 1 ? `1 ${what.replace(/s$/, '')}` : `${n.toLocaleString('en-GB')} ${what}`,
  ),
  refused: trial.refused,
});
