import { CardProblem, type CardFolder, type Staged } from '../../core/sets/card-folder';
import { severalAtOnce } from '../../core/sets/several-at-once';

/** More files than that are no card. */
const MOST_FILES = 100_000;

const SAID: Readonly<Record<string, string>> = {
  QuotaExceededError: 'the card is full',
  NotAllowedError: 'the browser does not allow it any more. Choose the folder again',
  NoModificationAllowedError: 'it is open elsewhere, or may not be written to',
  NotFoundError: 'it is gone. Is the card still there',
  TypeMismatchError: 'a folder of that name lies there',
};
const problem = (path: string, error: unknown) => {
  const { name, message } = error as DOMException;
  return new CardProblem(`${path}: ${SAID[name] ?? message}. What was there before is as it was.`);
};

/** The folder of so many names that a path lies in. */
const within = (path: string, depth: number) => path.split('/').slice(0, depth).join('/');

interface Asked {
  requestPermission?: (options: { mode: 'readwrite' }) => Promise<PermissionState>;
}

/**
 * A folder that the browser was given. What is written there lies in a file of the browser’s own
 * beside the old one until it is closed, and takes its place then: staging is what the browser does.
 */
export class BrowserCard implements CardFolder {
  readonly name: string;
  constructor(readonly root: FileSystemDirectoryHandle) {
    this.name = root.name;
  }

  /** Asks once whether it may be written to; to be called from a click. */
  async allow(): Promise<void> {
    const allowed = await (this.root as Asked).requestPermission?.({ mode: 'readwrite' });
    if (allowed !== undefined && allowed !== 'granted')
      throw new CardProblem(
        `${this.name}: the browser may not write to it. Allow it, or choose another.`,
      );
  }

  /** Folders that were made for files, by path: they go with the last file that is dropped. */
  private readonly made = new Set<string>();

  /** The folder of a file, which is made with `create`. */
  private async folderOf(path: string, create = false): Promise<FileSystemDirectoryHandle> {
    let at = this.root;
    for (const [depth, name] of path.split('/').slice(0, -1).entries()) {
      const above = at;
      at = await above.getDirectoryHandle(name).catch((error: unknown) => {
        if (!create || (error as DOMException).name !== 'NotFoundError') throw error;
        this.made.add(within(path, depth + 1));
        return above.getDirectoryHandle(name, { create });
      });
    }
    return at;
  }
  /** What was made for a file and holds nothing goes. */
  private async unmake(path: string): Promise<void> {
    for (let depth = path.split('/').length - 1; depth > 0; depth--) {
      const folder = within(path, depth);
      if (!this.made.has(folder)) continue;
      const gone = await this.folderOf(folder)
        .then((above) => above.removeEntry(this.nameOf(folder)))
        .then(
          () => true,
          () => false,
        );
      if (!gone) return;
      this.made.delete(folder);
    }
  }
  private nameOf = (path: string) => path.split('/').at(-1)!;

  async list() {
    const found: { path: string; handle: FileSystemFileHandle }[] = [];
    const out: { path: string; bytes: number }[] = [];
    const walk = async (folder: FileSystemDirectoryHandle, within: string) => {
      for await (const entry of folder.values()) {
        const path = within === '' ? entry.name : `${within}/${entry.name}`;
        if (entry.kind === 'directory') await walk(entry as FileSystemDirectoryHandle, path);
        else found.push({ path, handle: entry as FileSystemFileHandle });
        if (found.length > MOST_FILES)
          throw new CardProblem(`${this.name}: more than ${MOST_FILES} files are in it.`);
      }
    };
    try {
      await walk(this.root, '');
      await severalAtOnce(found, async ({ path, handle }) => {
        out.push({ path, bytes: (await handle.getFile()).size });
      });
    } catch (error) {
      throw error instanceof CardProblem ? error : problem(this.name, error);
    }
    return out.sort((a, b) => (a.path < b.path ? -1 : 1));
  }

  async read(path: string): Promise<Uint8Array> {
    try {
      const folder = await this.folderOf(path);
      const handle = await folder.getFileHandle(this.nameOf(path));
      return new Uint8Array(await (await handle.getFile()).arrayBuffer());
    } catch (error) {
      throw problem(path, error);
    }
  }

  async stage(path: string, bytes: Uint8Array): Promise<Staged> {
    try {
      const folder = await this.folderOf(path, true);
      const handle = await folder.getFileHandle(this.nameOf(path), { create: true });
      const stream = await handle.createWritable();
      await stream.write(bytes as Uint8Array<ArrayBuffer>);
      return {
        commit: () =>
          stream.close().catch((error: unknown) => {
            throw problem(path, error);
          }),
        drop: async () => {
          await stream.abort().catch(() => undefined);
          // A file that was not there before has no bytes yet.
          const left = await handle.getFile().catch(() => null);
          if (left?.size === 0) await folder.removeEntry(handle.name).catch(() => undefined);
          await this.unmake(path);
        },
      };
    } catch (error) {
      await this.unmake(path);
      throw problem(path, error);
    }
  }

  async remove(path: string) {
    const names = path.split('/');
    try {
      const folder = await this.folderOf(path);
      await folder.removeEntry(this.nameOf(path));
      for (let depth = names.length - 1; depth > 0; depth--) {
        const above = await this.folderOf(within(path, depth));
        const own = await this.folderOf(`${within(path, depth)}/`);
        for await (const _ of own.values()) return;
        await above.removeEntry(names[depth - 1]!);
      }
    } catch (error) {
      if ((error as DOMException).name === 'NotFoundError') return;
      throw problem(path, error);
    }
  }

  /** No page is told how much room a card has: a full one is met while the files are staged. */
  free() {
    return Promise.resolve(null);
  }
}
