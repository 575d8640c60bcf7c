import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Damage } from '../../diagnostic/damage';
import { toDamage, type SourceExtras } from '../readers/define-reader';
import type { SmfFile } from '../../smf/file';
import type { ModuleChoices } from './choices';
import { MOST_MODULE_BYTES, readModule } from './index';
import type { Module } from './module';
import { perform, type Performance } from './strikes';
import { readAsScore, samplesIn, type ModuleReading, type SampleReading } from './to-file';

/** A module with all that does not depend on how it is read. */
export interface KnownModule {
  readonly module: Module;
  readonly played: Performance;
  readonly samples: readonly SampleReading[];
  readonly doubts: readonly Damage[];
}

/** The last ones: choices are changed again and again, and playing takes the longest. */
const recent = new Map<string, KnownModule>();
const MOST_KNOWN = 3;

/**
 * Reads and plays a module; null where the bytes are none.
 *
 * @param sha256 by which it is known from then on; null where it is not to be kept
 */
export function knowModule(
  bytes: Uint8Array,
  sha256: string | null,
  checkpoint?: Checkpoint,
): KnownModule | null {
  const known = sha256 === null ? undefined : recent.get(sha256);
  if (known) return known;
  if (bytes.length > MOST_MODULE_BYTES) return null;
  const read = readModule(bytes);
  if (!read) return null;
  const { module } = read;
  const played = perform(module, checkpoint);
  const doubts = read.doubts.map((d) => ({
    ...toDamage('module-doubtful', { place: `byte ${d.at}`, says: d.says }),
    byteOffset: d.at,
  }));
  if (played.cutShort)
    doubts.push(
      toDamage('module-doubtful', {
        place: `order ${played.rows.at(-1)?.order ?? 0}`,
        says: 'It does not come to an end; it is read up to here.',
      }),
    );
  const made: KnownModule = {
    module,
    played,
    samples: samplesIn(module, played, checkpoint),
    doubts,
  };
  if (sha256 !== null) {
    recent.set(sha256, made);
    for (const key of recent.keys()) {
      if (recent.size <= MOST_KNOWN) break;
      recent.delete(key);
    }
  }
  return made;
}

/** A module that was read a while ago; null where it has to be read again. */
export const recallModule = (sha256: string): KnownModule | null => recent.get(sha256) ?? null;

/** A module as a source: the score that its choices make of it, and what stays behind. */
export function openModule(
  bytes: Uint8Array,
  sha256: string | null,
  choices: ModuleChoices = {},
  checkpoint?: Checkpoint,
): { file: SmfFile; extras: SourceExtras; doubts: readonly Damage[] } | null {
  const known = knowModule(bytes, sha256, checkpoint);
  if (!known) return null;
  const reading = readKnown(known, choices);
  return {
    file: reading.file,
    extras: {
      module: known.module.format,
      left: reading.lost,
      ...(known.module.name ? { metadata: { title: known.module.name } } : {}),
    },
    doubts: known.doubts,
  };
}

export const readKnown = (known: KnownModule, choices: ModuleChoices): ModuleReading =>
  readAsScore(known.module, known.played, choices, known.samples);
