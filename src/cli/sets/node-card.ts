import {
  accessSync,
  constants,
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmdirSync,
  rmSync,
  statfsSync,
  writeFileSync,
  openSync,
  fsyncSync,
  closeSync,
} from 'node:fs';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { CardProblem, type CardFolder, type Staged } from '../../core/sets/card-folder';
import { partName } from '../../core/sets/compare-card';

/** More files than that are no card. */
const MOST_FILES = 100_000;

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code ?? String(error);
const SAID: Readonly<Record<string, string>> = {
  ENOSPC: 'the card is full',
  EROFS: 'the card is read-only',
  EACCES: 'it may not be written to',
  EPERM: 'it may not be written to',
  ENAMETOOLONG: 'its name is too long for this card',
};
const problem = (path: string, error: unknown) =>
  new CardProblem(
    `${path}: ${SAID[codeOf(error)] ?? `cannot be used (${codeOf(error)})`}. What was there before is as it was.`,
  );

/** A folder of this machine that a set is handed over into. Links in it are never followed. */
export class NodeCard implements CardFolder {
  readonly name: string;
  private readonly root: string;
  /** Folders that were made for files: they go with the last file that is dropped. */
  private readonly made = new Set<string>();
  constructor(folder: string) {
    this.root = resolve(folder);
    this.name = basename(this.root);
  }

  private at(path: string): string {
    const file = resolve(this.root, path);
    if (!file.startsWith(this.root + sep)) throw new CardProblem(`${path}: lies outside.`);
    // A link on the way would lead out of the folder.
    let above = dirname(file);
    while (above.length > this.root.length) {
      if (existsSync(above) && lstatSync(above).isSymbolicLink())
        throw new CardProblem(`${path}: ${basename(above)} is a link, and is not followed.`);
      above = dirname(above);
    }
    return file;
  }

  async list() {
    const out: { path: string; bytes: number }[] = [];
    const walk = (within: string) => {
      for (const entry of readdirSync(join(this.root, within), { withFileTypes: true })) {
        const path = within === '' ? entry.name : `${within}/${entry.name}`;
        if (entry.isDirectory()) walk(path);
        else if (entry.isFile()) out.push({ path, bytes: lstatSync(join(this.root, path)).size });
        else out.push({ path, bytes: -1 });
        if (out.length > MOST_FILES)
          throw new CardProblem(`${this.root}: more than ${MOST_FILES} files are in it.`);
      }
    };
    try {
      if (existsSync(this.root)) walk('');
    } catch (error) {
      throw error instanceof CardProblem ? error : problem(this.root, error);
    }
    return out.sort((a, b) => (a.path < b.path ? -1 : 1));
  }

  async read(path: string): Promise<Uint8Array> {
    const file = this.at(path);
    try {
      if (!lstatSync(file).isFile()) throw new CardProblem(`${path}: is no file.`);
      return new Uint8Array(readFileSync(file));
    } catch (error) {
      throw error instanceof CardProblem ? error : problem(path, error);
    }
  }

  async stage(path: string, bytes: Uint8Array, n: number): Promise<Staged> {
    const file = this.at(path);
    const part = join(dirname(file), partName(n));
    const drop = () => {
      rmSync(part, { force: true });
      for (let at = dirname(file); this.made.has(at); at = dirname(at)) {
        if (!existsSync(at) || readdirSync(at).length > 0) break;
        rmdirSync(at);
        this.made.delete(at);
      }
    };
    try {
      const top = mkdirSync(dirname(file), { recursive: true });
      if (top !== undefined)
        for (let at = dirname(file); at.startsWith(top); at = dirname(at)) this.made.add(at);
      // What would only be met when it is renamed is met here, before anything has changed.
      if (lstatSync(file, { throwIfNoEntry: false })?.isDirectory())
        throw new CardProblem(`${path}: a folder of that name lies there.`);
      const handle = openSync(part, 'w');
      try {
        writeFileSync(handle, bytes);
        // On a card that is pulled, what was not forced out is lost.
        fsyncSync(handle);
      } finally {
        closeSync(handle);
      }
    } catch (error) {
      drop();
      throw error instanceof CardProblem ? error : problem(path, error);
    }
    return {
      commit: async () => {
        try {
          renameSync(part, file);
        } catch (error) {
          throw problem(path, error);
        }
      },
      drop: async () => drop(),
    };
  }

  async remove(path: string) {
    const file = this.at(path);
    try {
      rmSync(file, { force: true });
      for (let above = dirname(file); above !== this.root; above = dirname(above)) {
        if (readdirSync(above).length > 0) break;
        rmdirSync(above);
      }
    } catch (error) {
      throw problem(path, error);
    }
  }

  async free(): Promise<number | null> {
    let at = this.root;
    while (!existsSync(at) && dirname(at) !== at) at = dirname(at);
    try {
      accessSync(at, constants.W_OK);
    } catch (error) {
      throw problem(at, error);
    }
    try {
      const { bavail, bsize } = statfsSync(at);
      return bavail * bsize;
    } catch {
      return null;
    }
  }
}
