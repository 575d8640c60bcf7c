import { sayFigures } from '../../core/compare/say-figures';
import { sayLater } from '../../core/target/words';
import type { MendTrialView } from '../../worker/run-protocol';

/** What a mend costs, in a few words: worked out by trying it. */
export function sayCosts(trial: MendTrialView | undefined): string {
  if (!trial) return '…';
  if (trial.refused) return trial.refused;
  const later = sayLater(trial.shiftMs);
  const shift = later === null ? '' : `, all ${later}`;
  const lost = trial.losses.length > 0 ? `, without ${trial.losses.join(', ')}` : '';
  const music = trial.figures ? sayFigures(trial.figures) : '';
  return `${music ? `${music}; ` : ''}${trial.costs}${shift}${trial.lossless ? lost : ''}`;
}
