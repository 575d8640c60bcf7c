import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesOfWanted, sha, wantedSong } from '../../../testing/card';
import { CardProblem } from '../../core/sets/card-folder';
import { BEGUN, MANIFEST } from '../../core/sets/manifest';
import { readCard, writeCard } from '../../core/sets/write-card';
import { BrowserCard } from './browser-card';

/** Until the permission is taken back as many operations are allowed. */
interface Allowed {
  left: number;
}
const asked = (allowed: Allowed) => {
  if (allowed.left-- <= 0) throw new DOMException('The permission was taken.', 'NotAllowedError');
};

/** A folder as the browser gives it, in memory: a writable takes its file’s place when it is closed. */
class Folder {
  readonly kind = 'directory';
  readonly entries = new Map<string, Folder | File_>();
  constructor(
    readonly name: string,
    private readonly allowed: Allowed,
  ) {}
  async *values() {
    asked(this.allowed);
    yield* [...this.entries.values()];
  }
  private async entry<T extends Folder | File_>(
    name: string,
    create: boolean,
    of: new (name: string, allowed: Allowed) => T,
  ): Promise<T> {
    asked(this.allowed);
    const there = this.entries.get(name);
    if (there) return there as T;
    if (!create) throw new DOMException('Not there.', 'NotFoundError');
    const made = new of(name, this.allowed);
    this.entries.set(name, made);
    return made;
  }
  getDirectoryHandle = (name: string, { create = false } = {}) => this.entry(name, create, Folder);
  getFileHandle = (name: string, { create = false } = {}) => this.entry(name, create, File_);
  async removeEntry(name: string) {
    asked(this.allowed);
    const there = this.entries.get(name);
    if (there instanceof Folder && there.entries.size > 0)
      throw new DOMException('It is not empty.', 'InvalidModificationError');
    this.entries.delete(name);
  }
}

class File_ {
  readonly kind = 'file';
  bytes = new Uint8Array(0);
  constructor(
    readonly name: string,
    private readonly allowed: Allowed,
  ) {}
  async getFile() {
    asked(this.allowed);
    return new Blob([this.bytes]);
  }
  async createWritable() {
    asked(this.allowed);
    let next = new Uint8Array(0);
    return {
      write: async (bytes: Uint8Array) => {
        asked(this.allowed);
        next = bytes.slice();
      },
      close: async () => {
        asked(this.allowed);
        this.bytes = next;
      },
      abort: async () => undefined,
    };
  }
}

const textsIn = (folder: Folder, within = ''): Record<string, string> =>
  Object.fromEntries(
    [...folder.entries].flatMap(([name, entry]) =>
      entry instanceof Folder
        ? Object.entries(textsIn(entry, `${within}${name}/`))
        : [[`${within}${name}`, new TextDecoder().decode(entry.bytes)]],
    ),
  );

const songs = (version: string) => [
  wantedSong('a', { 'a.mid': `first ${version}`, 'a-times.csv': '1,2' }),
  wantedSong('b', { 'deep/b.mid': `second ${version}` }),
  wantedSong('c', { 'deep/deeper/c.mid': 'third' }),
];
/** Files of folders that none of them made by itself. */
const DEEP = {
  'deep/deeper/d.mid': 'fourth',
  'deep/deeper/e.mid': 'fifth',
  'new/f.mid': 'sixth',
  'new/g.mid': 'seventh',
};
const order = (version: string) => ({
  set: { id: 's', title: 'Quay' },
  card: 'Friday',
  day: '2031-05-04',
  wanted: songs(version),
  bytesOf: bytesOfWanted,
  removeGone: false,
  overTheirs: new Set<string>(),
  sha256: sha,
});
const cardOf = (folder: Folder) => new BrowserCard(folder as unknown as FileSystemDirectoryHandle);
const wholeOf = (version: string) => ({
  'a.mid': `first ${version}`,
  'a-times.csv': '1,2',
  'deep/b.mid': `second ${version}`,
  'deep/deeper/c.mid': 'third',
});

describe('a folder whose permission is taken back', () => {
  it('keeps whole files whenever it happens; allowed again, the next handover finishes', async () => {
    await fc.assert(
      fc.asyncProperty(fc.nat(110), fc.boolean(), async (left, before) => {
        const allowed: Allowed = { left: Infinity };
        const folder = new Folder('card', allowed);
        if (before) await writeCard(cardOf(folder), order('old'));
        allowed.left = left;
        let problem: unknown = null;
        try {
          await writeCard(cardOf(folder), order('new'));
        } catch (error) {
          problem = error;
        }
        if (problem) expect(problem).toBeInstanceOf(CardProblem);
        allowed.left = Infinity;
        const [was, is]: Record<string, string>[] = [wholeOf('old'), wholeOf('new')];
        for (const [path, text] of Object.entries(textsIn(folder)))
          if (path !== MANIFEST && path !== BEGUN)
            expect(['', before ? was![path] : '', is![path]]).toContain(text);
        const finished = await writeCard(cardOf(folder), order('new'));
        expect(finished.keptTheirs).toEqual([]);
        const { [MANIFEST]: manifest, ...files } = textsIn(folder);
        expect(manifest).toBeDefined();
        expect(files).toEqual(is);
        const { comparison } = await readCard(cardOf(folder), songs('new'), sha, { set: 's' });
        expect(comparison.songs.every((s) => s.standing === 'same')).toBe(true);
      }),
      { numRuns: 150 },
    );
  });
  it('given up anywhere, the folders that were made for it are gone too', async () => {
    for (let at = 1; at < 8; at++) {
      const folder = new Folder('card', { left: Infinity });
      let asked = 0;
      const call = writeCard(cardOf(folder), {
        ...order('new'),
        wanted: [...songs('new'), wantedSong('d', DEEP)],
        givenUp: () => ++asked > at,
      });
      await expect(call).rejects.toThrow(/given up/);
      expect([...folder.entries.keys()], `given up at ${at}`).toEqual([]);
    }
  });
  it('says what to do', async () => {
    const folder = new Folder('card', { left: 3 });
    await expect(writeCard(cardOf(folder), order('new'))).rejects.toThrow(
      /the browser does not allow it any more\. Choose the folder again/,
    );
  });
});
