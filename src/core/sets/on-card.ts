import type { Complaint } from '../standin/played';
import { sameName } from './layout';
import type { Manifest } from './manifest';

/** A song as it lies on a card: its files by the paths that its target reads. */
export interface SongOnACard {
  readonly key: string;
  readonly title: string;
  readonly target: string;
  readonly files: readonly { readonly path: string; readonly bytes: Uint8Array }[];
  /** Files that are missing, or not as they were handed over. */
  readonly contradicts: readonly Complaint[];
}

/**
 * The songs of a card by its manifest, to be rehearsed from the card itself.
 *
 * @param files of the card by path, those that the manifest names
 * @param hashes of the same, lower-case hex
 */
export function songsOnCard(
  manifest: Manifest,
  files: ReadonlyMap<string, Uint8Array>,
  hashes: ReadonlyMap<string, string>,
): SongOnACard[] {
  const at = new Map([...files.keys()].map((p) => [sameName(p), p]));
  return manifest.songs.map(({ key, title, target, folder, files: listed }) => {
    const contradicts: Complaint[] = [];
    const no = (file: string, at: string, says: string) =>
      contradicts.push({ file, at, says, block: null });
    const own = listed.flatMap(({ path, sha256 }) => {
      const there = files.has(path) ? path : at.get(sameName(path));
      const bare = path.startsWith(folder) ? path.slice(folder.length) : path;
      if (there === undefined) {
        no(bare, 'folder', 'The manifest lists it, and it is not there.');
        return [];
      }
      if (hashes.get(there) !== sha256)
        no(bare, 'bytes', 'It is not the file that was handed over.');
      return [{ path: bare, bytes: files.get(there)! }];
    });
    return { key, title, target, files: own, contradicts };
  });
}
