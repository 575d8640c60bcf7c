import { sameName, type WantedFile, type WantedSong } from './layout';
import { BEGUN, MANIFEST, type Manifest } from './manifest';

/** A file that lies in the folder. */
export interface FoundFile {
  readonly path: string;
  /** Other spellings of its name that the card answers to: one that tells no case apart. */
  readonly also?: readonly string[];
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
    /** It lies there under another name than ours, with bytes of ours. */
    readonly renamed: boolean;
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
  const find = finder(there);
  const ours = new Map<string, Set<string>>();
  const asWritten = new Set<string>();
  const paths = new Set<string>();
  for (const { path, sha256 } of filesOf(manifest).concat(filesOf(begun))) {
    const name = sameName(path);
    ours.set(name, (ours.get(name) ?? new Set()).add(sha256));
    asWritten.add(`${sha256} ${path}`);
    paths.add(path);
  }
  const wantedNames = new Set(wanted.flatMap((s) => s.files.map((f) => sameName(f.path))));
  // What lies under no name that is wanted or known, by its bytes: it may be one that was renamed.
  const strangers = new Map<string, FoundFile>();
  for (const f of there)
    if (f.sha256 && !wantedNames.has(sameName(f.path)) && !ours.has(sameName(f.path)))
      strangers.set(f.sha256, f);

  // An empty one was cut before it had its bytes.
  const isAsWritten = (f: FoundFile) =>
    asWritten.has(`${f.sha256} ${f.path}`) || (f.bytes === 0 && paths.has(f.path));
  // Files that a wanted one stands for or would take the place of.
  const met = new Set<FoundFile>();
  const songs = wanted.map((song): SongOnCard => {
    const known = song.files.some((f) => ours.has(sameName(f.path)));
    const write: WantedFile[] = [];
    const same: string[] = [];
    const theirs: SongOnCard['theirs'][number][] = [];
    const ask = (file: WantedFile, found: FoundFile, renamed: boolean, says: string) => {
      met.add(found);
      theirs.push({ file, at: found.path, renamed, says });
    };
    for (const file of song.files) {
      const written = ours.get(sameName(file.path));
      const found = find.exactly(file.path);
      if (found) {
        const isOurs =
          (found.sha256 !== null && written?.has(found.sha256)) ||
          // Nothing is lost by it.
          (found.bytes === 0 && file.bytes > 0);
        if (found.sha256 !== file.sha256 && !isOurs)
          ask(file, found, false, written ? CHANGED : 'lies there, and is not of this set');
        else {
          met.add(found);
          if (found.sha256 === file.sha256) same.push(file.path);
          else write.push(file);
        }
        continue;
      }
      // The set spells it anew: what it wrote under the old spelling is not wanted any more.
      const near = find.nearly(file.path).find((f) => !isAsWritten(f) && !met.has(f));
      const isCalled = (f: FoundFile) => `is called ${f.path} now`;
      if (near) {
        const renamed = near.sha256 === file.sha256 || written?.has(near.sha256 ?? '') === true;
        if (renamed) ask(file, near, true, isCalled(near));
        else ask(file, near, false, written ? CHANGED : 'lies there, and is not of this set');
        continue;
      }
      const renamed = [...(written ?? [])]
        .map((h) => strangers.get(h))
        .find((f) => f && !met.has(f));
      if (renamed && find.nearly(file.path).length === 0)
        ask(file, renamed, true, isCalled(renamed));
      else write.push(file);
    }
    const standing =
      theirs.length > 0 ? 'theirs' : write.length === 0 ? 'same' : known ? 'changed' : 'new';
    return { key: song.key, title: song.title, standing, write, same, theirs };
  });

  const keptTheirs: string[] = [];
  const gone: CardComparison['gone'][number][] = [];
  const stale: string[] = [];
  // Keys are of their set: those of another one say nothing here.
  const own = manifest?.set.id === set || begun?.set.id === set;
  const stays = new Set(own ? wanted.map((s) => s.key) : []);
  const told = new Set<FoundFile>();
  // Of a handover that was cut some files lie there that no manifest tells of.
  for (const { key, title, target, folder, files } of [
    ...(manifest?.songs ?? []),
    ...(begun?.songs ?? []),
  ]) {
    const left: WantedFile[] = [];
    for (const { path } of files) {
      const found = find.exactly(path);
      if (!found || met.has(found) || told.has(found)) continue;
      told.add(found);
      if (own && unmade.has(key)) continue;
      const { bytes, sha256 } = found;
      const isOurs = sha256 !== null && ours.get(sameName(path))!.has(sha256);
      if (sha256 !== null && (isOurs || bytes === 0))
        left.push({ path: found.path, bytes, sha256 });
      else keptTheirs.push(found.path);
    }
    if (stays.has(key)) stale.push(...left.map((f) => f.path));
    else if (left.length > 0) gone.push({ key, title, target, folder, files: left });
  }
  const isOurOwn = ({ path }: FoundFile) => path === MANIFEST || path === BEGUN || isPart(path);
  return {
    songs,
    gone,
    stale,
    keptTheirs,
    notOurs: there.filter((f) => !met.has(f) && !told.has(f) && !isOurOwn(f)).map((f) => f.path),
    leftovers: there.map((f) => f.path).filter(isPart),
  };
}

const CHANGED = 'was changed on the card';

/** Files of a folder by name: by the very spelling, or one that a card may not tell from it. */
function finder(there: readonly FoundFile[]) {
  const exact = new Map<string, FoundFile>();
  const forms = new Map<string, FoundFile>();
  const near = new Map<string, FoundFile[]>();
  for (const f of there) {
    for (const path of [f.path, ...(f.also ?? [])]) exact.set(path, f);
    forms.set(oneForm(f.path), f);
    const name = sameName(f.path);
    near.set(name, [...(near.get(name) ?? []), f]);
  }
  return {
    // An accent that a card spells in another form is no other name.
    exactly: (path: string) => exact.get(path) ?? forms.get(oneForm(path)),
    nearly: (path: string) => near.get(sameName(path)) ?? [],
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
