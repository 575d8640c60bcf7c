import { gatherLosses } from '../core/outputs/receipt';
import type { MendTrial } from '../core/plan/trial';

/** What a mend would do, as the screen shows it. */
export const trialView = (trial: MendTrial) => ({
  lossless: trial.lossless,
  notesTouched: trial.notesTouched,
  notesDropped: trial.notesDropped,
  cost: trial.cost,
  shiftMs: trial.shiftMs,
  says: trial.says,
  losses: gatherLosses(trial.losses).map((l) => `${l.count.toLocaleString('en-GB')} ${l.what}`),
  refused: trial.refused,
});
