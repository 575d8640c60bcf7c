import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { bankForAll, bankNamed, dropBank, keepBank, keptBanks, setBankForAll } from './bank';
import { db } from './db';

const bytes = (n: number) => Uint8Array.of(n).buffer;
beforeEach(() => db.settings.clear());

describe('sound banks of one’s own', () => {
  it('are kept by their names, in order', async () => {
    await keepBank({ name: 'reeds.sf2', bytes: bytes(2) });
    await keepBank({ name: 'marsh.sf2', bytes: bytes(1) });
    expect(await keptBanks()).toEqual(['marsh.sf2', 'reeds.sf2']);
    expect(new Uint8Array((await bankNamed('reeds.sf2'))!.bytes)).toEqual(Uint8Array.of(2));
    expect(await bankNamed('gone.sf2')).toBeNull();
    expect(await bankForAll()).toBeNull();
  });
  it('one stands for all jobs until it is removed', async () => {
    await keepBank({ name: 'marsh.sf2', bytes: bytes(1) });
    await setBankForAll('marsh.sf2');
    expect(await bankForAll()).toBe('marsh.sf2');
    await dropBank('marsh.sf2');
    expect(await bankForAll()).toBeNull();
    expect(await keptBanks()).toEqual([]);
  });
  it('the one that an earlier version kept is there, and sounds in all jobs as it did', async () => {
    await db.settings.put({ key: 'sound-bank', value: { name: 'old.sf3', bytes: bytes(7) } });
    expect(await keptBanks()).toEqual(['old.sf3']);
    expect(await bankForAll()).toBe('old.sf3');
    expect(new Uint8Array((await bankNamed('old.sf3'))!.bytes)).toEqual(Uint8Array.of(7));
  });
  it('other settings are not taken for banks', async () => {
    await db.settings.put({ key: 'light', value: 'booth' });
    expect(await keptBanks()).toEqual([]);
  });
});
