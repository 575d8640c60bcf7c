import type { Damage } from '../diagnostic/damage';
import { readScore } from '../score/read-score';
import type { SmfHead } from '../smf/file';
import type { ShiftJis } from '../smf/text';
import type { Checkpoint, SourceScore } from './model';

export interface OpenOptions {
  readonly key: string;
  readonly name: string;
  readonly sha256: string;
  /** Format 2: the sequence that is meant, from 0. */
  readonly sequence?: number;
  readonly checkpoint?: Checkpoint;
  readonly shiftJis?: ShiftJis;
}

export interface Opened {
  readonly source?: SourceScore;
  /** There wherever a header could be read. */
  readonly head?: SmfHead;
  readonly damage: readonly Damage[];
}

/** Reads bytes into a source. Without one, the damage says why: at least one entry is fatal. */
export function openSource(bytes: Uint8Array, options: OpenOptions): Opened {
  const { key, name, sha256, sequence, shiftJis } = options;
  const scoreOptions = {
    sourceKey: key,
    ...(sequence === undefined ? {} : { sequence }),
    ...(shiftJis ? { shiftJis } : {}),
  };
  const { head, score, damage } = readScore(bytes, scoreOptions, options.checkpoint);
  if (!head) return { damage };
  if (!score) return { head, damage };
  return { source: { key, name, sha256, head, score, damage }, head, damage };
}
