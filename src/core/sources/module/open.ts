import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Damage } from '../../diagnostic/damage';
import { toDamage, type SourceExtras } from '../readers/define-reader';
import type { SmfFile } from '../../smf/file';
import type { ModuleChoices } from './choices';
import { MOST_MODULE_BYTES, readModule } from './index';
import type { KnownModule } from './known';
import type { Module } from './module';
import { samplesIn } from './samples-in';
import { songsIn } from './songs';
import { perform } from './strikes';
import { readAsScore } from './to-file';

export interface KnowOptions {
  /** Which of its songs, from 0. */
  readonly song?: number | undefined;
  readonly checkpoint?: Checkpoint | undefined;
}

/** Reads and plays a module; null where the bytes are none. */
export function knowModule(bytes: Uint8Array, options: KnowOptions = {}): KnownModule | null {
  if (bytes.length > MOST_MODULE_BYTES) return null;
  const read = readModule(bytes);
  if (!read) return null;
  const doubts = read.doubts.map((d) => ({
    ...toDamage('module-doubtful', { place: `byte ${d.at}`, says: d.says }),
    byteOffset: d.at,
  }));
  return knownOf(read.module, options, doubts);
}

/** Plays a module. */
export function knownOf(
  module: Module,
  { song = 0, checkpoint }: KnowOptions = {},
  doubts: readonly Damage[] = [],
): KnownModule {
  const played = perform(module, { checkpoint });
  const songs = songsIn(module, played, checkpoint);
  const known = { module, songs, song: 0, played, doubts };
  return song > 0 && songs.length > 1
    ? songOf({ ...known, samples: [] }, { song, checkpoint })
    : { ...known, samples: samplesIn(module, played, checkpoint) };
}

/** The same module with another of its songs played; the last where there are not so many. */
export function songOf(known: KnownModule, { song: asked = 0, checkpoint }: KnowOptions) {
  const { module, songs } = known;
  const song = Math.min(asked, songs.length - 1);
  if (song === known.song) return known;
  const played = perform(module, { order: songs[song]!.order, checkpoint });
  return { ...known, song, played, samples: samplesIn(module, played, checkpoint) };
}

/** What is doubtful in a module and in how its song plays. */
export function doubtsOf({ doubts, played }: KnownModule): readonly Damage[] {
  if (!played.cutShort) return doubts;
  const place = `order ${played.rows.at(-1)?.order ?? 0}`;
  const says = 'It does not come to an end; it is read up to here.';
  return [...doubts, toDamage('module-doubtful', { place, says })];
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
    doubts: doubtsOf(known),
  };
}
