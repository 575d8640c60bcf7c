/** A folder that a set is handed over into: a card, a mod’s folder. Paths are relative, with `/`. */
export interface CardFolder {
  /** How it is called where the user chose it. */
  readonly name: string;
  /** Every file under it, in any order; links are not followed. */
  list(): Promise<readonly { readonly path: string; readonly bytes: number }[]>;
  read(path: string): Promise<Uint8Array>;
  /**
   * Puts bytes beside a file, whole and under a name of their own; what is there stays until they
   * are committed, which is a renaming.
   */
  stage(path: string, bytes: Uint8Array, n: number): Promise<Staged>;
  /** Removes a file, and the folders above it that are empty then. */
  remove(path: string): Promise<void>;
  /** Bytes that there is room for; null where nobody can say. */
  free(): Promise<number | null>;
}

export interface Staged {
  commit(): Promise<void>;
  /** It is not wanted after all; never fails. */
  drop(): Promise<void>;
}

/** Why a card could not be read or written to, in a sentence that names the file. */
export class CardProblem extends Error {}
