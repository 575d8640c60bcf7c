import { CardProblem, type CardFolder, type Staged } from '../../src/core/sets/card-folder';
import { Pulled, someTurns } from '../card';

/** What a card is like that nobody of the desk has chosen. */
export interface CardKind {
  /** FAT and its like: neither case nor how an accent is spelt makes two names. */
  readonly folds: boolean;
  /** A file that takes the place of another keeps the spelling of the one that was there. */
  readonly keepsSpelling: boolean;
  /** As browsers do it: the file is there, empty, as soon as it is staged; its bytes come later. */
  readonly hollow: boolean;
}

/**
 * A card by its own rules, on which others put, change and rename things, and which can be pulled
 * behind any operation that changes it.
 */
export class StrangeCard implements CardFolder {
  readonly name = 'card';
  private readonly entries = new Map<string, { path: string; bytes: Uint8Array }>();
  private left = Infinity;
  written = 0;
  constructor(readonly kind: CardKind) {}

  private key = (path: string) => (this.kind.folds ? path.normalize('NFC').toLowerCase() : path);
  pullAfter(operations: number) {
    this.left = operations;
  }
  private step() {
    if (this.left-- <= 0) throw new Pulled();
  }
  private inTheWay(path: string) {
    const key = this.key(path);
    for (const other of this.entries.keys())
      if (other.startsWith(`${key}/`) || key.startsWith(`${other}/`))
        throw new CardProblem(`${path}: ${other} is in the way.`);
  }

  put(path: string, bytes: Uint8Array) {
    const old = this.entries.get(this.key(path));
    const spelt = old && this.kind.keepsSpelling ? old.path : path;
    this.entries.set(this.key(path), { path: spelt, bytes });
  }
  rename(from: string, to: string) {
    const { bytes } = this.entries.get(this.key(from))!;
    this.entries.delete(this.key(from));
    this.entries.set(this.key(to), { path: to, bytes });
  }
  take(path: string) {
    this.entries.delete(this.key(path));
  }
  at = (path: string) => this.entries.get(this.key(path));
  all = () => [...this.entries.values()];

  list() {
    return Promise.resolve(this.all().map(({ path, bytes }) => ({ path, bytes: bytes.length })));
  }
  read(path: string) {
    const found = this.at(path);
    return found
      ? Promise.resolve(found.bytes)
      : Promise.reject(new CardProblem(`${path}: is gone.`));
  }
  async stage(path: string, bytes: Uint8Array, n: number): Promise<Staged> {
    this.inTheWay(path);
    const part = path.replace(/[^/]*$/, `quill-${n}.part`);
    await someTurns(n);
    this.step();
    if (!this.kind.hollow) {
      this.put(part, bytes.slice(0, bytes.length >> 1));
      await someTurns(n);
      this.step();
      this.put(part, bytes);
    } else if (!this.at(path)) this.put(path, new Uint8Array(0));
    return {
      commit: async () => {
        this.step();
        if (!this.kind.hollow) this.take(part);
        this.put(path, bytes);
        this.written += bytes.length;
      },
      drop: async () => {
        if (this.left <= 0) return;
        if (!this.kind.hollow) this.take(part);
        else if (this.at(path)?.bytes.length === 0) this.take(path);
      },
    };
  }
  async remove(path: string) {
    this.step();
    this.take(path);
  }
  free = () => Promise.resolve(null);
}
