import { isFatal, type Damage } from '../diagnostic/damage';
import {
  headOf,
  META,
  META_TRACK_NAME,
  payload,
  type SequenceHead,
  type SmfHead,
  type SmfTrack,
} from '../smf/file';
import { decodeText } from '../smf/text';
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
  const head = headOf(file);
  if (file.format !== 2) return { head, score: scoreFromFile(file, options), damage };
  const sequences = file.tracks.map(sequenceHead);
  const first = Math.max(
    0,
    sequences.findIndex((s) => s.notes > 0),
  );
  const sequence = Math.min(options.sequence ?? first, Math.max(0, sequences.length - 1));
  const score = scoreFromFile(file, { ...options, sequence });
  return { head: { ...head, sequences, sequence }, score, damage };
}

/** What a sequence of a format 2 file holds, so that one can be chosen. */
function sequenceHead(track: SmfTrack): SequenceHead {
  let notes = 0;
  let name: string | null = null;
  for (let i = 0; i < track.count; i++) {
    const status = track.status[i]!;
    if ((status & 0xf0) === 0x90 && track.data2[i]! > 0) notes++;
    if (status === META && track.data1[i] === META_TRACK_NAME)
      name ??= decodeText(payload(track, i)).text.trim() || null;
  }
  return { name, notes };
}
