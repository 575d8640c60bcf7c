import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import { computed, nextTick, onScopeDispose, ref, watch } from 'vue';
import { defineJobPart, useOpenJob } from './job-part';

const left: string[] = [];
const useCount = defineJobPart(() => {
  const { id } = useOpenJob().session;
  const n = ref(0);
  onScopeDispose(() => left.push(`${id} at ${n.value}`));
  return { id, n, twice: computed(() => n.value * 2), more: () => ++n.value };
});
/** One that stands on another, and goes on late. */
const useLate = defineJobPart(() => {
  const count = useCount();
  const seen = ref<number[]>([]);
  watch(
    () => count.n,
    (n) => seen.value.push(n),
    { flush: 'sync' },
  );
  return { seen, later: async (wait: Promise<void>) => (await wait, count.more()) };
});

beforeEach(() => {
  setActivePinia(createPinia());
  left.length = 0;
  useOpenJob().begin('a');
});

it('each job has parts of its own; whoever holds one meets that of the job that is open', async () => {
  const count = useCount();
  const { more } = count;
  const told: number[] = [];
  watch(
    () => count.twice,
    (n) => told.push(n),
  );
  expect(more()).toBe(1);
  await nextTick();
  useOpenJob().begin('b');
  await nextTick();
  expect([count.id, count.n, count.twice]).toEqual(['b', 0, 0]);
  expect(left).toEqual(['a at 1']);
  // Taken earlier, it acts on the job that is open.
  expect(more()).toBe(1);
  await nextTick();
  expect(told).toEqual([2, 0, 2]);
  expect(Object.keys(count)).toEqual(['id', 'n', 'twice', 'more']);
  expect('n' in count).toBe(true);
  count.n = 5;
  expect(useCount().n).toBe(5);
});

it('what goes on late in a job that was left reaches no other', async () => {
  const late = useLate();
  const before = late.seen;
  let go = () => {};
  const done = late.later(new Promise((resolve) => (go = resolve)));
  useOpenJob().begin('b');
  go();
  expect(await done).toBe(1);
  expect(useCount().n).toBe(0);
  expect([useLate().seen, before]).toEqual([[], []]);
});

it('a part that is asked for when its job was left is set up, and told to nobody', () => {
  const { session } = useOpenJob();
  useOpenJob().begin(null);
  const part = session.part(() => ({ n: ref(3) }));
  expect(part.n).toBe(3);
  expect(left).toEqual([]);
});
