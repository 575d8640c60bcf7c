import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { readKeyMap, useKeyMaps } from './key-maps';

beforeEach(() => setActivePinia(createPinia()));
const one = { format: 'key-map', version: 1, name: 'Quay to loft', keys: [{ from: 35, to: 36 }] };

describe('key maps', () => {
  it('are kept, used again, replaced by their name, and removed', async () => {
    const store = useKeyMaps();
    await store.keep(store.made(' Quay to loft ', [{ from: 35, to: 36 }]));
    await store.keep(store.made('Another', [{ from: 60, to: 61 }]));
    await store.keep(store.made('Quay to loft', [{ from: 35, to: 38 }]));
    setActivePinia(createPinia());
    const again = useKeyMaps();
    await again.load();
    expect(again.maps.map((m) => [m.name, m.keys[0]!.to])).toEqual([
      ['Another', 61],
      ['Quay to loft', 38],
    ]);
    await again.remove('Another');
    expect(again.maps.length).toBe(1);
  });
  it('come out of a file; what is wrong with one is said and nothing is lost', async () => {
    const store = useKeyMaps();
    const file = (text: string) => new File([text], 'quay.json');
    expect((await store.take(file(JSON.stringify(one))))?.name).toBe('Quay to loft');
    expect(await store.take(file('{'))).toBeNull();
    expect(store.problem).toBe('quay.json: it is no JSON.');
    expect(store.maps.some((m) => m.name === 'Quay to loft')).toBe(true);
  });
  it.each([
    [{ ...one, keys: [] }, 'keys'],
    [{ ...one, keys: [{ from: 200, to: 3 }] }, 'keys.0.from'],
    [{ ...one, extra: 1 }, 'extra'],
    [{ ...one, keys: [...one.keys, { from: 35, to: 40 }] }, 'key 35 goes to two places'],
    [{ ...one, name: ' ' }, 'name'],
  ])('refuses %j', (data, says) => {
    const read = readKeyMap(JSON.stringify(data));
    expect('problem' in read ? read.problem : '').toContain(says);
  });
});
