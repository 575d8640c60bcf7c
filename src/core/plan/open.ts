import { isFatal, type Damage } from '../diagnostic/damage';
import { scoreFromFile } from '../score/from-file';
import type { SmfFile } from '../smf/file';
import { readSmf } from '../smf/read';
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

export type Opened =
  | { readonly source: SourceScore; readonly damage: readonly Damage[] }
  | { readonly source?: undefined; readonly file?: SmfFile; readonly damage: readonly Damage[] };

/** Reads bytes into a source. Without one, the damage says why: at least one entry is fatal. */
export function openSource(bytes: Uint8Array, options: OpenOptions): Opened {
  const { file, damage } = readSmf(bytes, options.checkpoint);
  if (!file || damage.some(isFatal)) return { damage, ...(file ? { file } : {}) };
  const { key, name, sha256, sequence, shiftJis } = options;
  const score = scoreFromFile(file, {
    sourceKey: key,
    ...(sequence === undefined ? {} : { sequence }),
    ...(shiftJis ? { shiftJis } : {}),
  });
  return { source: { key, name, sha256, file, score, damage }, damage };
}
