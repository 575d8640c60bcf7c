import { createHash, randomBytes } from 'node:crypto';
import { lstat, readFile, realpath } from 'node:fs/promises';
import { basename, relative, resolve, sep } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import { LARGEST_FILE_BYTES } from '../core/smf/limits';
import { isModuleName } from '../core/smf/name';

/** A score that lies in the folder, whole. */
export interface WatchedFile {
  /** Says nothing of where it lies: it is asked for by this. */
  readonly id: string;
  /** Relative to the folder, with `/`. */
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string;
  /** It was there when the watching began. */
  readonly first: boolean;
}

/** What was met that is not taken, in a sentence; said once for each file. */
export interface Passed {
  readonly name: string;
  readonly says: string;
}

export interface FolderWatch {
  readonly folder: string;
  readonly files: ReadonlyMap<string, WatchedFile>;
  /** What was met and not taken: why, by name. */
  readonly passed: ReadonlyMap<string, string>;
  /** The bytes of a file as it lies there now; null where it is gone or was never told of. */
  read(id: string): Promise<Uint8Array | null>;
  /** @returns ends the listening */
  listen(to: Listener): () => void;
  close(): Promise<void>;
}

export interface Listener {
  saved(file: WatchedFile): void;
  gone?(file: WatchedFile): void;
  passed?(what: Passed): void;
}

const IS_SCORE = /\.(mid|midi|smf|kar|rmi)$/i;
/** How long a file has to stand still before it is looked at. */
const STILL_MS = 150;
const LOOK_EVERY_MS = 40;
/** A score that ends before its end is still being written, for as long at most. */
const HALF_MS = 3000;
/** More than that is no folder of exports. */
const MOST_FILES = 5000;
const MOST_DEPTH = 6;

/** Whether the chunks of an SMF reach to where they say; what is none is taken as it is. */
export function isWhole(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const id = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length === 0) return false;
  if (bytes.length < 14) return !'MThd'.startsWith(id(0).slice(0, Math.min(4, bytes.length)));
  if (id(0) !== 'MThd') return true;
  let tracks = view.getUint16(10);
  let at = 8 + view.getUint32(4);
  while (tracks > 0) {
    if (at + 8 > bytes.length) return false;
    if (id(at) === 'MTrk') tracks--;
    at += 8 + view.getUint32(at + 4);
    if (at > bytes.length) return false;
  }
  return true;
}

/**
 * Watches one folder for scores. A file is told of when it stands still and is whole; links are never
 * followed, nothing is written.
 */
export async function watchFolder(path: string): Promise<FolderWatch> {
  const folder = await realpath(resolve(path));
  if (!(await lstat(folder)).isDirectory()) throw new Error(`${path}: is no folder.`);
  const files = new Map<string, WatchedFile>();
  const byId = new Map<string, string>();
  const listeners = new Set<Listener>();
  const waits = new Map<string, NodeJS.Timeout>();
  const passed = new Map<string, string>();
  let begun = false;

  const nameOf = (file: string) => relative(folder, file).split(sep).join('/');
  const pass = (name: string, says: string) => {
    if (passed.get(name) === says) return;
    passed.set(name, says);
    for (const l of listeners) l.passed?.({ name, says });
  };

  async function look(file: string, since = Date.now()) {
    clearTimeout(waits.get(file));
    waits.delete(file);
    const name = nameOf(file);
    if (name.startsWith('..') || (!IS_SCORE.test(name) && !isModuleName(basename(name)))) return;
    try {
      const stat = await lstat(file);
      if (stat.isSymbolicLink()) return pass(name, 'is a link, and is not followed.');
      if (!stat.isFile()) return;
      if (stat.size > LARGEST_FILE_BYTES)
        return pass(
          name,
          `has ${stat.size.toLocaleString('en-GB')} bytes; scores may have up to ${LARGEST_FILE_BYTES.toLocaleString('en-GB')}.`,
        );
      if (!files.has(name) && files.size >= MOST_FILES)
        return pass(name, `is one too many: a folder of up to ${MOST_FILES} scores is watched.`);
      const bytes = new Uint8Array(await readFile(file));
      if (!isWhole(bytes) && Date.now() - since < HALF_MS) {
        waits.set(
          file,
          setTimeout(() => void look(file, since), STILL_MS),
        );
        return;
      }
      tell(name, bytes);
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code;
      // It was replaced while it was looked at: the next event tells.
      if (code !== 'ENOENT') pass(name, `cannot be read (${code ?? String(error)}).`);
    }
  }

  function tell(name: string, bytes: Uint8Array) {
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const before = files.get(name);
    if (before?.sha256 === sha256) return;
    const id = before?.id ?? randomBytes(12).toString('hex');
    const file = { id, name, bytes: bytes.length, sha256, first: !begun };
    files.set(name, file);
    byId.set(id, name);
    for (const l of listeners) l.saved(file);
  }

  const watcher: FSWatcher = watch(folder, {
    followSymlinks: false,
    depth: MOST_DEPTH,
    awaitWriteFinish: { stabilityThreshold: STILL_MS, pollInterval: LOOK_EVERY_MS },
    ignored: (at) => /(^|[/\\])[.~][^/\\]/.test(relative(folder, at)),
  });
  const looking: Promise<void>[] = [];
  const seen = (file: string) => {
    const look1 = look(file);
    if (!begun) looking.push(look1);
  };
  watcher.on('add', seen).on('change', seen);
  watcher.on('unlink', (file) => {
    const gone = files.get(nameOf(file));
    if (!gone) return;
    files.delete(gone.name);
    for (const l of listeners) l.gone?.(gone);
  });
  watcher.on('error', (error) => pass('', `The folder cannot be watched: ${String(error)}`));
  await new Promise<void>((ready) => watcher.on('ready', () => ready()));
  await Promise.all(looking);
  begun = true;

  return {
    folder,
    files,
    passed,
    async read(id) {
      const name = byId.get(id);
      if (name === undefined) return null;
      const file = resolve(folder, name);
      const stat = await lstat(file).catch(() => null);
      if (!stat?.isFile() || stat.size > LARGEST_FILE_BYTES) return null;
      // A folder on the way may have become a link since.
      const real = await realpath(file).catch(() => '');
      if (!real.startsWith(folder + sep)) return null;
      return new Uint8Array(await readFile(file));
    },
    listen(to) {
      listeners.add(to);
      return () => listeners.delete(to);
    },
    async close() {
      for (const timer of waits.values()) clearTimeout(timer);
      await watcher.close();
    },
  };
}
