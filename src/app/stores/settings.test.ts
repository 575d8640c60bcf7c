import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { nextTick } from 'vue';
import { eventually } from '../../../testing/eventually';
import { emptyBase } from '../../../testing/open-job';
import { db } from '../storage/db';
import { useSettings } from './settings';

type Settings = ReturnType<typeof useSettings>;
const plainOf = (s: Settings) => ({
  light: s.light,
  volume: s.volume,
  levels: { ...s.levels },
  handDelayMs: s.handDelayMs,
  preRoll: s.preRoll,
  barsPerRow: s.barsPerRow,
  sideWidth: { ...s.sideWidth },
  closeUp: s.closeUp,
  lastTarget: s.lastTarget,
  above: s.above,
});
/** A page that is opened anew. */
async function opened(): Promise<Settings> {
  setActivePinia(createPinia());
  const settings = useSettings();
  await settings.load();
  return settings;
}

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
  await db.settings.clear();
});

describe('settings', () => {
  it('come back as they were left, each by itself', async () => {
    const first = await opened();
    const before = plainOf(first);
    const other = before.light === 'paper' ? 'booth' : 'paper';
    const changes: ((s: Settings) => void)[] = [
      (s) => (s.light = other),
      (s) => (s.volume = before.volume / 2),
      (s) => (s.levels.score = before.levels.score / 2),
      (s) => (s.levels.recording = before.levels.recording / 4),
      (s) => (s.handDelayMs = 37),
      (s) => (s.preRoll = 5),
      (s) => (s.barsPerRow = 8),
      (s) => (s.sideWidth.narrow = 333),
      (s) => (s.sideWidth.wide = 555),
      (s) => (s.closeUp = 222),
      (s) => (s.lastTarget = 'lantern-rail'),
      (s) => (s.above = before.above + 41),
    ];
    for (const [i, change] of changes.entries()) {
      await db.settings.clear();
      const settings = await opened();
      expect(plainOf(settings), `before ${i}`).toEqual(before);
      change(settings);
      const wanted = plainOf(settings);
      expect(wanted, `change ${i}`).not.toEqual(before);
      await nextTick();
      await eventually(async () => expect(await db.settings.count()).toBeGreaterThan(0));
      expect(plainOf(await opened()), `change ${i}`).toEqual(wanted);
    }
  });

  it('take either light, and what is no setting leaves them as on a first visit', async () => {
    const first = plainOf(await opened());
    for (const value of ['booth', 'paper'] as const) {
      await db.settings.put({ key: 'light', value });
      expect((await opened()).light).toBe(value);
    }
    const keys = ['light', 'volume', 'bars-per-row', 'side-width', 'close-up', 'levels', 'cues'];
    for (const value of [null, 'teal', { narrow: 'a', score: 'b', delay: 'c', before: null }]) {
      await db.settings.bulkPut([...keys, 'above'].map((key) => ({ key, value: value as never })));
      await db.settings.put({ key: 'last-target', value: 7 });
      expect(plainOf(await opened()), JSON.stringify(value)).toEqual(first);
    }
  });
});
