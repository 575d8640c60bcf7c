import type { Score } from '../../score/score';

export const noteCount = (score: Score): number =>
  score.parts.reduce((sum, p) => sum + (p.leftOut ? 0 : p.notes.count), 0);
