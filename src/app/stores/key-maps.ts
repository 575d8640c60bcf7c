import * as z from 'zod';
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { KeyPair } from '../../core/seating/drum-kinds';
import { db, storageProblem } from '../storage/db';

const note = z.int().min(0).max(127);
export const KeyMapSchema = z.strictObject({
  format: z.literal('key-map'),
  version: z.literal(1),
  name: z.string().trim().min(1).max(80),
  keys: z
    .array(z.strictObject({ from: note, to: note }))
    .min(1)
    .max(128),
});
export type KeyMap = Readonly<z.infer<typeof KeyMapSchema>>;

/** More than any key map has; what is larger is not read. */
export const MOST_BYTES = 64 * 1024;
const SETTING = 'key-maps';

/** A key map out of a file: one key goes to one place, and to one only. */
export function readKeyMap(text: string): KeyMap | { readonly problem: string } {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return { problem: 'it is no JSON' };
  }
  const read = KeyMapSchema.safeParse(data);
  if (!read.success) {
    const [first] = read.error.issues;
    return { problem: `${first!.path.join('.') || 'the whole'}: ${first!.message}` };
  }
  const froms = read.data.keys.map((k) => k.from);
  const twice = froms.find((k, i) => froms.indexOf(k) !== i);
  if (twice !== undefined) return { problem: `key ${twice} goes to two places` };
  return read.data;
}

/** Key maps that were made once and fit other jobs: kept in the browser, and as files. */
export const useKeyMaps = defineStore('key-maps', () => {
  const maps = shallowRef<readonly KeyMap[]>([]);
  const problem = shallowRef<string | null>(null);

  async function load() {
    try {
      const row = await db.settings.get(SETTING);
      const read = z.array(KeyMapSchema).safeParse(row?.value);
      maps.value = read.success ? read.data : [];
    } catch {
      // Without a database there is none yet; keeping one says so.
      maps.value = [];
    }
  }
  async function write(next: readonly KeyMap[]) {
    problem.value = null;
    maps.value = next;
    try {
      await db.settings.put({
        key: SETTING,
        value: next.map((m) => ({ ...m, keys: [...m.keys] })),
      });
    } catch (error) {
      problem.value = storageProblem(error, 'file');
    }
  }
  /** Of one name the newer one counts. */
  const keep = (map: KeyMap) =>
    write([...maps.value.filter((m) => m.name !== map.name), map].sort(byName));
  const made = (name: string, keys: readonly KeyPair[]): KeyMap => ({
    format: 'key-map',
    version: 1,
    name: name.trim(),
    keys: keys.map(({ from, to }) => ({ from, to })),
  });
  const remove = (name: string) => write(maps.value.filter((m) => m.name !== name));

  /** Takes one out of a file; what is wrong with it is said, and nothing else is lost. */
  async function take(file: File): Promise<KeyMap | null> {
    problem.value = null;
    if (file.size > MOST_BYTES) {
      problem.value = `${file.name}: too large for a key map (over 64 kB).`;
      return null;
    }
    const read = readKeyMap(await file.text());
    if ('problem' in read) {
      problem.value = `${file.name}: ${read.problem}.`;
      return null;
    }
    await keep(read);
    return read;
  }
  return { maps, problem, load, keep, made, remove, take };
});

const byName = (a: KeyMap, b: KeyMap) => (a.name < b.name ? -1 : 1);
