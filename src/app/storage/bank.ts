import { db } from './db';

/** A sound bank of the user’s own, kept in the browser. */
export interface KeptBank {
  readonly name: string;
  readonly bytes: ArrayBuffer;
}

/** Larger ones would not stay in the memory of a page beside all else. */
export const LARGEST_BANK_BYTES = 256 * 1024 * 1024;

/** Which bank sounds in jobs that have none of their own. */
const FOR_ALL = 'sound-bank';
const BANK = 'sound-bank:';

/** Version 0.2 kept one bank, with its name under one key. */
async function upgraded(): Promise<string | null> {
  const row = (await db.settings.get(FOR_ALL))?.value as Partial<KeptBank> | undefined;
  if (!row?.name) return null;
  if (row.bytes) {
    await db.settings.put({ key: BANK + row.name, value: row });
    await db.settings.put({ key: FOR_ALL, value: { name: row.name } });
  }
  return row.name;
}

/** Without a database there is no bank of one's own; saving one says so. */
const orNone = async <T>(from: () => Promise<T>, none: T): Promise<T> => {
  try {
    return await from();
  } catch {
    return none;
  }
};

export const bankForAll = (): Promise<string | null> => orNone(upgraded, null);

export const keptBanks = (): Promise<string[]> =>
  orNone(async () => {
    await upgraded();
    const keys = await db.settings.where('key').startsWith(BANK).primaryKeys();
    return keys.map((k) => k.slice(BANK.length)).sort();
  }, []);

export const bankNamed = (name: string): Promise<KeptBank | null> =>
  orNone(
    async () => ((await db.settings.get(BANK + name))?.value as KeptBank | undefined) ?? null,
    null,
  );

export const keepBank = (bank: KeptBank): Promise<unknown> =>
  db.settings.put({ key: BANK + bank.name, value: bank });

export const setBankForAll = (name: string | null): Promise<unknown> =>
  name === null ? db.settings.delete(FOR_ALL) : db.settings.put({ key: FOR_ALL, value: { name } });

export async function dropBank(name: string): Promise<void> {
  await db.settings.delete(BANK + name);
  if ((await bankForAll()) === name) await setBankForAll(null);
}
