import { createHash } from 'node:crypto';
import { CardProblem, type CardFolder } from '../src/core/sets/card-folder';
import type { WantedSong } from '../src/core/sets/layout';

export const sha = async (bytes: Uint8Array): Promise<string> =>
  createHash('sha256').update(bytes).digest('hex');
const plainSha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** The card was pulled: nothing that is done after it reaches the card. */
export class Pulled extends Error {}

/** Files that are staged at once are staged in another order than they were begun in. */
export async function someTurns(n: number): Promise<void> {
  for (let turns = (n * 7) % 5; turns > 0; turns--) await null;
}

/**
 * A card in memory that can be pulled: each operation that changes it counts, writing a file counts
 * twice, and pulled between the two it has half of the file.
 */
export class MemoryCard implements CardFolder {
  readonly name = 'card';
  readonly files = new Map<string, Uint8Array>();
  private left = Infinity;
  room: number | null = null;
  readOnly = false;
  written = 0;

  pullAfter(operations: number) {
    this.left = operations;
  }
  private step() {
    if (this.left-- <= 0) throw new Pulled();
    if (this.readOnly) throw new CardProblem('card: it cannot be written to.');
  }
  list() {
    return Promise.resolve([...this.files].map(([path, b]) => ({ path, bytes: b.length })));
  }
  read(path: string) {
    const bytes = this.files.get(path);
    return bytes ? Promise.resolve(bytes) : Promise.reject(new CardProblem(`${path}: is gone.`));
  }
  async stage(path: string, bytes: Uint8Array, n: number) {
    const part = path.replace(/[^/]*$/, `quill-${n}.part`);
    await someTurns(n);
    this.step();
    this.files.set(part, bytes.slice(0, bytes.length >> 1));
    await someTurns(n);
    this.step();
    this.files.set(part, bytes);
    return {
      commit: async () => {
        this.step();
        this.files.delete(part);
        this.files.set(path, bytes);
        this.written += bytes.length;
      },
      drop: async () => {
        if (this.left > 0) this.files.delete(part);
      },
    };
  }
  async remove(path: string) {
    this.step();
    this.files.delete(path);
  }
  free() {
    return Promise.resolve(this.room);
  }
}

/** A song of a set by what its files hold: `{ 'a.mid': 'what' }`. */
export const wantedSong = (key: string, files: Record<string, string>): WantedSong => ({
  key,
  title: key.toUpperCase(),
  target: 'lantern-rail',
  folder: '',
  files: Object.entries(files).map(([path, text]) => {
    const bytes = bytesFor(text);
    return { path, bytes: bytes.length, sha256: plainSha(bytes) };
  }),
});

/** Where the bytes of songs lie that were made with `wantedSong`: each text is told by its hash. */
const texts = new Map<string, Uint8Array>();
function bytesFor(text: string): Uint8Array {
  const bytes = new TextEncoder().encode(text);
  texts.set(plainSha(bytes), bytes);
  return bytes;
}
export const bytesOfWanted = async (_: WantedSong, file: { sha256: string }) =>
  texts.get(file.sha256)!;
