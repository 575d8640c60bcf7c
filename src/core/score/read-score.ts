import { isFatal, type Damage } from '../diagnostic/damage';
import { headOf, type SmfHead } from '../smf/file';
import { readSmf } from '../smf/read';
import { scoreFromFile, type ScoreOptions } from './from-file';
import { readWellFormed } from './read-well-formed';
import type { Score } from './score';

export interface ScoreReading {
  /** Absent when nothing could be read. */
  readonly head?: SmfHead;
  /** Absent when damage is fatal. */
  readonly score?: Score;
  readonly damage: readonly Damage[];
}

/** Any bytes to a score, the quick way where they are well formed and else the tolerant one. */
export function readScore(
  bytes: Uint8Array,
  options: ScoreOptions,
  checkpoint: (done: number, total: number) => void = () => {},
): ScoreReading {
  const quick = readWellFormed(bytes, options, checkpoint);
  if (quick) return { ...quick, damage: [] };
  const { file, damage } = readSmf(bytes, checkpoint);
  if (!file) return { damage };
  if (damage.some(isFatal)) return { head: headOf(file), damage };
  return { head: headOf(file), score: scoreFromFile(file, options), damage };
}
