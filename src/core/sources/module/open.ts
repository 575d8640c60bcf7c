import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Damage } from '../../diagnostic/damage';
import { toDamage, type SourceExtras } from '../readers/define-reader';
import type { SmfFile } from '../../smf/file';
import type { ModuleChoices } from './choices';
import { MOST_MODULE_BYTES, readModule } from './index';
import type { KnownModule } from './known';
import { samplesIn } from './samples-in';
import { perform } from './strikes';
import { readAsScore } from './to-file';

/** Reads and plays a module; null where the bytes are none. */
export function knowModule(bytes: Uint8Array, checkpoint?: Checkpoint): KnownModule | null {
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
  return { module, played, samples: samplesIn(module, played, checkpoint), doubts };
}

/** A module as a source: the score that its choices make of it, and what stays behind. */
export function moduleAsSource(
  known: KnownModule,
  choices: ModuleChoices = {},
): { file: SmfFile; extras: SourceExtras; doubts: readonly Damage[] } {
  const reading = readAsScore(known, choices);
  return {
    file: reading.file,
    extras: {
      module: known,
      left: reading.lost,
      ...(known.module.name ? { metadata: { title: known.module.name } } : {}),
    },
    doubts: known.doubts,
  };
}
