import 'fake-indexeddb/auto';
import { NSelect } from 'naive-ui';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import type { TuneCell } from '../../../../demo/modules/tune';
import { eventually } from '../../../../testing/eventually';
import { EEL_TRAPS, moduleWriters, patternOf } from '../../../../testing/modules';
import { mounted } from '../../../../testing/mounted';
import { atRest, emptyBase, openSong } from '../../../../testing/open-job';
import { useJob } from '../../stores/job';
import { useModule } from '../../stores/module';
import { useRecording } from '../../stores/recording';
import IntakePanel from '../IntakePanel.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

const jump = (order: number): TuneCell => ({ fx: ['B', order] });
const cells: readonly Parameters<typeof patternOf>[0][] = [
  { 0: [{ note: 60, sample: 1 }], 7: [null, jump(0)] },
  { 0: [{ note: 67, sample: 2 }], 4: [{ note: 60, sample: 1 }] },
  { 2: [{ note: 67, sample: 2 }], 47: [null, jump(1)] },
];
const patterns = cells.map((p) => patternOf(p));

it('of a module that holds several songs one is chosen; it stays, however it is read', async () => {
  const bytes = moduleWriters.xm({ ...EEL_TRAPS, orders: [0, 1, 2], patterns });
  await openSong({
    id: 'quays',
    title: 'Quays',
    file: 'quays.xm',
    bytes,
    targetId: 'parlour-keyboard',
  });
  const job = useJob();
  const notes = () => job.shown!.source.parts.reduce((n, p) => n + p.columns.count, 0);
  expect(notes()).toBe(1);
  const { wrapper } = await mounted(IntakePanel);
  const choice = () =>
    wrapper.findAllComponents(NSelect).find((s) => s.attributes('aria-label') === 'Song')!;
  await eventually(() => expect(choice().exists()).toBe(true));
  expect(choice().props('options')).toEqual([
    { label: '1: order 0, 1 strike', value: 0 },
    { label: '2: order 1, 3 strikes', value: 1 },
  ]);
  choice().vm.$emit('update:value', 1);
  await atRest();
  expect(notes()).toBe(3);
  const { key, sha256, name } = job.sourcesNow[0]!;
  await job.readModule(key, { parts: 'channel' }, 'Parts by channel');
  await atRest();
  expect(job.source!.sequence).toBe(1);
  expect(notes()).toBe(3);
  // The newer export of it too; and the same file again is one.
  await job.replaceSource(sha256, name, undefined, key);
  await atRest();
  expect(job.source!.sequence).toBe(1);
  // What is mixed is the song that was chosen: 64 and 48 rows of 6 ticks.
  await useModule().bringSound();
  await eventually(() => expect(useRecording().listened).not.toBeNull());
  expect(useRecording().listened!.facts.lengthMs).toBeCloseTo((64 + 48) * 6 * 20, -1);
  expect(useModule().hasOwnSound).toBe(true);
  await job.replaceSource(sha256, name, 0, key);
  await atRest();
  // The other song’s stays beside it until it is brought in anew; that is said.
  expect(useModule().hasOwnSound).toBe(false);
  await eventually(() =>
    expect(wrapper.text()).toContain('The recording beside it is the sound of song 2.'),
  );
  await useModule().bringSound();
  await eventually(() => expect(useModule().hasOwnSound).toBe(true));
  expect(wrapper.text()).not.toContain('is the sound of song');
});
