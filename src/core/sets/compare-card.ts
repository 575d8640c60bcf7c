import { sameName, type WantedFile, type WantedSong } from './layout';
import { BEGUN, MANIFEST, type Manifest } from './manifest';

/** A file that lies in the folder. */
export interface FoundFile {
  readonly path: string;
  readonly bytes: number;
  /** Null where it was not read: it is none of ours, and nothing of ours goes there. */
  readonly sha256: string | null;
}

/**
 * How a song stands on a card. `theirs`: a file of it was changed, renamed or put there by somebody
 * since it was handed over.
 */
export type Standing = 'new' | 'changed' | 'same' | 'theirs';

export interface SongOnCard {
  readonly key: string;
  readonly title: string;
  readonly standing: Standing;
  /** Files to be written. */
  readonly write: readonly WantedFile[];
  readonly same: readonly string[];
  /** Files that would be written over what somebody put there or changed, with what happened. */
  readonly theirs: readonly {
    readonly file: WantedFile;
    readonly says: string;
    /** Where what they have lies now: under our name, or another. */
    readonly at: string;
  }[];
}

export interface CardComparison {
  readonly songs: readonly SongOnCard[];
  /** Songs that the last handover wrote and the set has no more, with files as they were written. */
  readonly gone: readonly {
    readonly key: string;
    readonly title: string;
    readonly target: string;
    readonly folder: string;
    readonly files: readonly WantedFile[];
  }[];
  /** Files of songs that are still in the set and have them no more: they go with the next handover. */
  readonly stale: readonly string[];
  /** What was handed over, is wanted no more, and was changed by somebody: it stays. */
  readonly keptTheirs: readonly string[];
  readonly notOurs: readonly string[];
  /** Of a handover that was cut: files under names of their own. */
  readonly leftovers: readonly string[];
}

const oneForm = (path: string) => path.normalize('NFC');

/** The name of a file that waits to be renamed. */
export const partName = (n: number): string => `quill-${n}.part`;
export const isPart = (path: string): boolean => /(^|\/)quill-\d+\.part$/.test(path);

/**
 * Holds what a set hands over against what lies in a folder.
 *
 * @param manifest of the last handover into it, and of one that was begun and cut; null where none is
 * @param options the set’s id, and its songs that could not be made now: what the card has of them stays
 */
export function compareCard(
  wanted: readonly WantedSong[],
  manifest: Manifest | null,
  begun: Manifest | null,
  there: readonly FoundFile[],
  { set, unmade = NOBODY }: { readonly set: string; readonly unmade?: ReadonlySet<string> },
): CardComparison {
  const at = new Map(there.map((f) => [sameName(f.path), f]));
  const ours = new Map<string, Set<string>>();
  for (const { path, sha256 } of filesOf(manifest).concat(filesOf(begun))) {
    const name = sameName(path);
    ours.set(name, (ours.get(name) ?? new Set()).add(sha256));
  }
  const wantedNames = new Set(wanted.flatMap((s) => s.files.map((f) => sameName(f.path))));
  // What lies under no name that is wanted or known, by its bytes: it may be one that was renamed.
  const strangers = new Map<string, string>();
  for (const f of there)
    if (f.sha256 && !wantedNames.has(sameName(f.path)) && !ours.has(sameName(f.path)))
      strangers.set(f.sha256, f.path);

  const songs = wanted.map((song): SongOnCard => {
    const known = song.files.some((f) => ours.has(sameName(f.path)));
    const write: WantedFile[] = [];
    const same: string[] = [];
    const theirs: SongOnCard['theirs'][number][] = [];
    for (const file of song.files) {
      const found = at.get(sameName(file.path));
      const written = ours.get(sameName(file.path));
      if (!found) {
        const renamed = [...(written ?? [])].map((h) => strangers.get(h)).find(Boolean);
        if (renamed) theirs.push({ file, at: renamed, says: `is called ${renamed} now` });
        else write.push(file);
      } else if (found.bytes === 0 && file.bytes > 0)
        write.push(file); // Nothing is lost by it.
      // An accent that a card spells in another form is no other name.
      else if (found.sha256 === file.sha256 && oneForm(found.path) === oneForm(file.path))
        same.push(file.path);
      else if (found.sha256 === file.sha256)
        theirs.push({ file, at: found.path, says: `is called ${found.path} now` });
      else if (found.sha256 !== null && written?.has(found.sha256)) write.push(file);
      else
        theirs.push({
          file,
          at: found.path,
          says: written ? 'was changed on the card' : 'lies there, and is not of this set',
        });
    }
    const standing =
      theirs.length > 0 ? 'theirs' : write.length === 0 ? 'same' : known ? 'changed' : 'new';
    return { key: song.key, title: song.title, standing, write, same, theirs };
  });

  const taken = new Set(songs.flatMap((s) => s.theirs.map((t) => sameName(t.at))));
  const keptTheirs: string[] = [];
  const gone: CardComparison['gone'][number][] = [];
  const stale: string[] = [];
  // Keys are of their set: those of another one say nothing here.
  const own = manifest?.set.id === set || begun?.set.id === set;
  const stays = new Set(own ? wanted.map((s) => s.key) : []);
  const told = new Set<string>();
  // Of a handover that was cut some files lie there that no manifest tells of.
  for (const { key, title, target, folder, files } of [
    ...(manifest?.songs ?? []),
    ...(begun?.songs ?? []),
  ]) {
    if (own && unmade.has(key)) continue;
    const left: WantedFile[] = [];
    for (const { path } of files) {
      const name = sameName(path);
      const found = at.get(name);
      if (!found || wantedNames.has(name) || taken.has(name) || told.has(name)) continue;
      told.add(name);
      const { sha256 } = found;
      if (sha256 !== null && ours.get(name)!.has(sha256)) left.push({ ...found, sha256 });
      else keptTheirs.push(found.path);
    }
    if (stays.has(key)) stale.push(...left.map((f) => f.path));
    else if (left.length > 0) gone.push({ key, title, target, folder, files: left });
  }
  const known = new Set([...wantedNames, ...ours.keys(), ...taken]);
  const notOurs = there
    .map((f) => f.path)
    .filter((p) => !known.has(sameName(p)) && p !== MANIFEST && p !== BEGUN && !isPart(p));
  return {
    songs,
    gone,
    stale,
    keptTheirs,
    notOurs,
    leftovers: there.map((f) => f.path).filter(isPart),
  };
}

const NOBODY: ReadonlySet<string> = new Set();

const filesOf = (manifest: Manifest | null) => manifest?.songs.flatMap((s) => s.files) ?? [];

/** Paths whose bytes have to be read to tell a card: all others are no matter of ours. */
export function pathsToRead(
  wanted: readonly WantedSong[],
  manifests: readonly (Manifest | null)[],
  there: readonly { readonly path: string; readonly bytes: number }[],
): string[] {
  const files = [...wanted.flatMap((s) => s.files), ...manifests.flatMap(filesOf)];
  const names = new Set(files.map((f) => sameName(f.path)));
  // A file that was renamed has the length of one that is known.
  const lengths = new Set(files.map((f) => f.bytes));
  return there
    .filter((f) => names.has(sameName(f.path)) || lengths.has(f.bytes))
    .map((f) => f.path)
    .filter((p) => !isPart(p) && p !== MANIFEST && p !== BEGUN);
}
