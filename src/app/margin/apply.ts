import type { FindingView, MendView } from '../../worker/run-protocol';
import { useJob } from '../stores/job';

/** Applies a mend as one change to the plan. Never asks: undo is the safety. */
export function applyMend(finding: Pick<FindingView, 'title'>, mend: MendView): void {
  useJob().applyMend(`${finding.title}: ${mend.title}`, mend.steps);
}
