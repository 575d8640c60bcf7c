import { db } from './db';

/** A sound bank of the user’s own, kept in the browser. */
export interface KeptBank {
  readonly name: string;
  readonly bytes: ArrayBuffer;
}

/** Larger ones would not stay in the memory of a page beside all else. */
export const LARGEST_BANK_BYTES = 256 * 1024 * 1024;

const KEY = 'sound-bank';

export async function keptBank(): Promise<KeptBank | null> {
  try {
    return ((await db.settings.get(KEY))?.value as KeptBank | undefined) ?? null;
  } catch {
    // Without a database there is no bank of one's own; saving one says so.
    return null;
  }
}

export const keepBank = async (bank: KeptBank | null): Promise<void> => {
  if (bank) await db.settings.put({ key: KEY, value: bank });
  else await db.settings.delete(KEY);
};
