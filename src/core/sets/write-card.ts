import { CardProblem, type CardFolder, type Staged } from './card-folder';
import { compareCard, pathsToRead, type CardComparison, type FoundFile } from './compare-card';
import { sameName, type WantedFile, type WantedSong } from './layout';
import { severalAtOnce } from './several-at-once';
import { BEGUN, MANIFEST, parseManifest, writeManifest, type Manifest } from './manifest';

type Sha256 = (bytes: Uint8Array) => Promise<string>;
type Report = (done: number, total: number) => void;

export interface ReadCard {
  /** Null where nothing of ours was handed over into it. */
  readonly manifest: Manifest | null;
  /** What a handover that was cut was about to write. */
  readonly begun: Manifest | null;
  readonly there: readonly FoundFile[];
  readonly comparison: CardComparison;
}

async function manifestAt(folder: CardFolder, path: string, there: ReadonlySet<string>) {
  if (!there.has(path)) return null;
  const bytes = await folder.read(path);
  // A browser makes a file before it fills it: cut then, there is none yet.
  if (bytes.length === 0) return null;
  const { manifest, problem } = parseManifest(bytes);
  if (manifest) return manifest;
  throw new CardProblem(`${folder.name}: ${problem} Nothing was written.`);
}

/** What lies in a folder, held against a set. Only what may be ours is read. */
export async function readCard(
  folder: CardFolder,
  wanted: readonly WantedSong[],
  sha256: Sha256,
  {
    report,
    ...of
  }: {
    readonly set: string;
    readonly unmade?: ReadonlySet<string>;
    readonly report?: Report;
  },
): Promise<ReadCard> {
  const list = await folder.list();
  const names = new Set(list.map((f) => f.path));
  const manifest = await manifestAt(folder, MANIFEST, names);
  // A cut may have left this one half: what it would tell is then asked as of a stranger’s file.
  const begun = await manifestAt(folder, BEGUN, names).catch(() => null);
  const wants = new Set(pathsToRead(wanted, [manifest, begun], list));
  const there: FoundFile[] = new Array(list.length);
  const spelt = spellings(wanted, [manifest, begun]);
  let done = 0;
  await severalAtOnce(list, async ({ path, bytes }, at) => {
    const hash = wants.has(path) ? await sha256(await folder.read(path)) : null;
    const also: string[] = [];
    for (const other of hash === null ? [] : (spelt.get(sameName(path)) ?? []))
      // A card that answers to another spelling than it lists does not tell them apart.
      if (!names.has(other) && (await folder.read(other).catch(() => null)) !== null)
        also.push(other);
    there[at] = { path, bytes, sha256: hash, also };
    report?.(++done, list.length);
  });
  const comparison = compareCard(wanted, manifest, begun, there, of);
  return { manifest, begun, there, comparison };
}

/** How the set and what was handed over before spell each name. */
function spellings(wanted: readonly WantedSong[], manifests: readonly (Manifest | null)[]) {
  const out = new Map<string, Set<string>>();
  for (const { files } of [...wanted, ...manifests.flatMap((m) => m?.songs ?? [])])
    for (const { path } of files) {
      const name = sameName(path);
      out.set(name, (out.get(name) ?? new Set()).add(path));
    }
  return out;
}

export interface CardOrder {
  readonly set: { readonly id: string; readonly title: string };
  readonly card: string;
  /** Today, such as 2031-05-04. */
  readonly day: string;
  readonly wanted: readonly WantedSong[];
  readonly bytesOf: (song: WantedSong, file: WantedFile) => Promise<Uint8Array>;
  /** Songs of the set that could not be made now: what the card has of them stays as it is. */
  readonly unmade?: ReadonlySet<string>;
  /** Songs that are gone from the set go from the card too. */
  readonly removeGone: boolean;
  /** Songs whose files somebody changed and that are written all the same, by key. */
  readonly overTheirs: ReadonlySet<string>;
  readonly sha256: Sha256;
  readonly report?: Report;
  /** Asked before each file; what was staged by then is dropped, and nothing has changed. */
  readonly givenUp?: () => boolean;
}

export interface CardWritten {
  readonly written: readonly string[];
  readonly removed: readonly string[];
  /** Of the files, without the manifest. */
  readonly bytes: number;
  readonly handover: number | null;
  readonly keptTheirs: readonly string[];
}

interface Task {
  readonly song: WantedSong;
  readonly file: WantedFile;
}

/**
 * Stages all files.
 * @param staged what was staged so far, by place in the order of `tasks`: also where it throws
 * @throws the first problem, once none is under way any more
 */
async function stageAll(
  folder: CardFolder,
  tasks: readonly Task[],
  staged: (Staged | undefined)[],
  { report, givenUp, bytesOf }: CardOrder,
): Promise<void> {
  let done = 0;
  report?.(0, tasks.length);
  await severalAtOnce(tasks, async ({ song, file }, i) => {
    if (givenUp?.()) throw new CardProblem('It was given up. Nothing was written.');
    staged[i] = await folder.stage(file.path, await bytesOf(song, file), i);
    report?.(++done, tasks.length);
  });
}

/**
 * Hands a set over into a folder: writes what is new and changed, leaves the same alone. All files are
 * staged before the first is renamed; then what is about to be written is noted, the files take
 * their names, and the manifest stands last. Cut anywhere, every file is whole, the old one or the
 * new one, and the next handover finishes.
 *
 * @throws CardProblem where the card cannot be read, has no room or cannot be written to
 */
export async function writeCard(folder: CardFolder, order: CardOrder): Promise<CardWritten> {
  const { wanted, report, sha256, unmade } = order;
  const read = await readCard(folder, wanted, sha256, {
    set: order.set.id,
    ...(unmade ? { unmade } : {}),
  });
  const { manifest, begun, there, comparison } = read;
  const bySong = new Map(wanted.map((s) => [s.key, s]));
  const tasks: Task[] = comparison.songs.flatMap((song) => {
    const over = order.overTheirs.has(song.key) ? song.theirs.map((t) => t.file) : [];
    return [...song.write, ...over].map((file) => ({ song: bySong.get(song.key)!, file }));
  });
  // What lies under our name in other letters goes when ours is there, or the card holds it twice.
  const renamed = comparison.songs.flatMap((s) =>
    order.overTheirs.has(s.key) ? s.theirs.filter((t) => t.renamed).map((t) => t.at) : [],
  );
  const gone = order.removeGone ? comparison.gone.flatMap((g) => g.files.map((f) => f.path)) : [];
  const removed = [...comparison.stale, ...gone, ...renamed];
  const keptTheirs = comparison.songs
    .filter((s) => s.standing === 'theirs' && !order.overTheirs.has(s.key))
    .flatMap((s) => s.theirs.map((t) => t.at));
  for (const path of comparison.leftovers) await folder.remove(path);
  const next = manifestOf(order, read);
  const settled = tasks.length === 0 && removed.length === 0;
  if (settled && manifest && sameSongs(manifest, next)) {
    // A handover that was cut behind its last file is finished by this.
    await removeIfThere(folder, BEGUN);
    return { written: [], removed: [], bytes: 0, handover: null, keptTheirs };
  }
  const need = tasks.reduce((n, t) => n + t.file.bytes, 0);
  const free = await folder.free();
  if (free !== null && need > free)
    throw new CardProblem(
      `${folder.name} has room for ${sayBytes(free)}, and the songs need ${sayBytes(need)}. ` +
        'Nothing was written. Make room, or put songs aside.',
    );
  const staged: (Staged | undefined)[] = [];
  // What will lie in the folder is noted before anything changes; so is what lies there already of a
  // handover that was cut: no manifest tells of it yet.
  const noted = { ...next, songs: [...next.songs, ...stillThere(begun, there)] };
  try {
    await (await folder.stage(BEGUN, writeManifest(noted), 0)).commit();
    await stageAll(folder, tasks, staged, order);
    staged.push(await folder.stage(MANIFEST, writeManifest(next), tasks.length));
  } catch (error) {
    for (const s of staged.reverse()) await s?.drop();
    await putBack(folder, begun).catch(() => undefined);
    throw error;
  }
  for (const s of staged.slice(0, -1)) await s!.commit();
  for (const path of removed)
    if (!tasks.some((t) => t.file.path === path)) await folder.remove(path);
  await staged.at(-1)!.commit();
  await folder.remove(BEGUN);
  report?.(tasks.length, tasks.length);
  return {
    written: tasks.map((t) => t.file.path),
    removed,
    bytes: need,
    handover: next.handover,
    keptTheirs,
  };
}

/** What a handover that was cut has written of its own, or has begun to, as it lies there. */
const stillThere = (begun: Manifest | null, there: readonly FoundFile[]) => {
  const lies = new Map(there.map((f) => [sameName(f.path), f]));
  const isOurs = ({ path, sha256 }: WantedFile) => {
    const found = lies.get(sameName(path));
    return found?.sha256 === sha256 || found?.bytes === 0;
  };
  return (begun?.songs ?? [])
    .map((s) => ({ ...s, files: s.files.filter(isOurs) }))
    .filter((s) => s.files.length > 0);
};

/** A handover that was given up before its first file is as if it had not been begun. */
async function putBack(folder: CardFolder, begun: Manifest | null) {
  if (begun) await (await folder.stage(BEGUN, writeManifest(begun), 0)).commit();
  else await removeIfThere(folder, BEGUN);
}

async function removeIfThere(folder: CardFolder, path: string) {
  if ((await folder.list()).some((f) => f.path === path)) await folder.remove(path);
}

/** What lies in the folder behind a handover; files of theirs that were kept stay as they were noted. */
function manifestOf(order: CardOrder, { manifest, begun, there, comparison }: ReadCard): Manifest {
  const noted = [manifest, begun].flatMap((m) => m?.songs.flatMap((s) => s.files) ?? []);
  const lies = new Map(there.map((f) => [f.path, f.sha256]));
  const kept = new Map(
    comparison.songs
      .filter((s) => !order.overTheirs.has(s.key))
      .flatMap((s) => s.theirs.map((t) => [t.file.path, lies.get(t.at)] as const)),
  );
  const was = (path: string) => {
    const named = noted.filter((f) => sameName(f.path) === sameName(path));
    return (
      named.find((f) => f.sha256 === kept.get(path)) ??
      named.find((f) => f.path === path) ??
      named[0]
    );
  };
  const songs = order.wanted.map(({ key, title, target, folder, files }) => ({
    key,
    title,
    target,
    folder,
    files: files.flatMap((f) => {
      if (!kept.has(f.path)) return [f];
      const old = was(f.path);
      return old ? [{ ...old, path: f.path }] : [];
    }),
  }));
  // Files of songs that are gone and stay on the card are still ours.
  const stay = (order.removeGone ? [] : comparison.gone).map((g) => ({
    ...g,
    files: [...g.files],
  }));
  const unmade = (manifest?.set.id === order.set.id ? manifest.songs : []).filter((s) =>
    order.unmade?.has(s.key),
  );
  return {
    format: 'quill-manifest',
    version: 1,
    set: { id: order.set.id, title: order.set.title },
    card: order.card,
    handover: (manifest?.handover ?? 0) + 1,
    written: order.day,
    songs: [...songs, ...stay, ...unmade],
  };
}

/** Whether two manifests say the same but for the day and the count. */
const sameSongs = (a: Manifest, b: Manifest): boolean =>
  JSON.stringify([a.set, a.card, a.songs]) === JSON.stringify([b.set, b.card, b.songs]);

export function sayBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  const [size, unit] =
    bytes < 1e6 ? [bytes / 1e3, 'kB'] : bytes < 1e9 ? [bytes / 1e6, 'MB'] : [bytes / 1e9, 'GB'];
  return `${size.toFixed(size < 10 ? 1 : 0)} ${unit}`;
}
