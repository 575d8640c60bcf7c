import { plainName } from '../smf/name';
import { songsOf, type SongRow, type SongSet } from './set';
import type { SongFacts } from './song-facts';

/** A song of a set with all that is known of it. */
export interface KnownSong {
  readonly row: SongRow;
  readonly title: string;
  readonly facts: SongFacts;
}

/** A file of a song, by its path in the set’s delivery. */
export interface WantedFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
}
export interface WantedSong {
  readonly key: string;
  readonly title: string;
  readonly target: string;
  /** What stands before the paths that the target gives: empty, or a folder and its `/`. */
  readonly folder: string;
  readonly files: readonly WantedFile[];
}

/** What stands before the files of a song; ends with `/` where it is not empty. */
export function folderOf(set: SongSet, song: Pick<KnownSong, 'row' | 'title'>): string {
  switch (set.folders) {
    case 'song':
      return `${plainName(song.row.name ?? song.title) || 'song'}/`;
    case 'target':
      return `${plainName(song.row.target)}/`;
    case 'none':
      return '';
  }
}

export const wantedOf = (set: SongSet, song: KnownSong): WantedSong => ({
  key: song.row.key,
  title: song.title,
  target: song.row.target,
  folder: folderOf(set, song),
  files: song.facts.files.map((f) => ({ ...f, path: `${folderOf(set, song)}${f.path}` })),
});

/** All that a set hands over, in its order; songs of which nothing is known yet are left out. */
export function wantedSongs(
  set: SongSet,
  known: ReadonlyMap<string, Pick<KnownSong, 'title' | 'facts'>>,
): WantedSong[] {
  return songsOf(set).flatMap((row) => {
    const of = known.get(row.key);
    return of ? [wantedOf(set, { row, ...of })] : [];
  });
}

/**
 * What names of files are told apart by where a card is read: neither case nor how an accent is
 * spelt (Unicode, annex 15) makes two.
 */
export const sameName = (path: string): string => path.normalize('NFC').toLowerCase();
