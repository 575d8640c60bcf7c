import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { toRaw } from 'vue';
import { beforeEach, expect, it, vi } from 'vitest';
import { atRest, emptyBase, openJob } from '../../../testing/open-job';
import type { HandEdit } from '../../core/steps/by-hand';
import { readJob } from '../storage/jobs';
import { useHand } from './hand';
import { useHandover } from './handover';
import { useJob } from './job';
import { useLooking } from './looking';
import { useShelf } from './shelf';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

const partOf = (job: ReturnType<typeof useJob>) =>
  job.shown!.delivered.parts.find((p) => p.columns.count > 3)!;
/** Note `n` of the first part that plays, as it is delivered. */
function noteAt(n: number) {
  const { columns: c } = partOf(useJob());
  const [start, end] = [c.start[n]!, c.end[n]!];
  return { start, long: end - start, key: c.noteNumber[n]!, velocity: c.velocity[n]! };
}
const edits = () => {
  const { steps } = useJob().plan!.now;
  expect(steps).toHaveLength(1);
  return (steps[0]!.params as { edits: HandEdit[] }).edits;
};
async function chosen(n: number) {
  await openJob('demo-turn-of-the-tide', 'lantern-rail');
  await atRest();
  useLooking().chosen = new Set([partOf(useJob()).columns.id[n]!]);
  return { hand: useHand(), before: noteAt(n) };
}

it.each([
  ['ticks', 5, { start: 5 }],
  ['semitones', -2, { key: -2 }],
  ['longerTicks', 7, { long: 7 }],
  ['louder', -3, { velocity: -3 }],
] as const)(
  'one note is changed by %s, and back again it is as it was',
  async (what, by, moved) => {
    const { hand, before } = await chosen(1);
    hand.nudge({ [what]: by });
    await hand.flush();
    await atRest();
    expect(edits()).toEqual([{ note: 0, [what]: by }]);
    const wanted = { ...before };
    for (const key of Object.keys(moved) as (keyof typeof before)[])
      wanted[key] += (moved as Partial<typeof before>)[key]!;
    expect(noteAt(1)).toEqual(wanted);
    expect(useJob().plan!.now.did).toMatch(/^1 note moved by hand/);
    hand.nudge({ [what]: -by });
    await hand.flush();
    await atRest();
    expect(edits()).toEqual([{ note: 0 }]);
    expect(noteAt(1)).toEqual(before);
  },
);

it('a note that is taken out is gone, whatever was done to it', async () => {
  const { hand } = await chosen(2);
  const { count } = partOf(useJob()).columns;
  hand.nudge({ semitones: 4 });
  await hand.flush();
  await atRest();
  await hand.takeOut();
  await atRest();
  expect(edits()).toEqual([{ note: 0, gone: true }]);
  expect(partOf(useJob()).columns.count).toBe(count - 1);
});

it('what another step made is said, and leaves no step behind', async () => {
  const { hand } = await chosen(0);
  const job = useJob();
  const params = { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' };
  job.addSteps('Carried', [{ step: 'carrier-note', params, scope: {}, on: true }]);
  await atRest();
  const { columns } = job.shown!.delivered.parts.find((p) => p.name === 'Carrier')!;
  useLooking().chosen = new Set([columns.id[0]!]);
  hand.nudge({ semitones: 1 });
  await hand.flush();
  await atRest();
  expect(hand.problem).toMatch(/^1 note made by another step/);
  expect(job.plan!.now.steps.map((s) => s.step)).toEqual(['carrier-note']);
  expect(hand.preview.semitones).toBe(0);
});

it('a handover that is given up by hand is told nowhere, and takes no number', async () => {
  const { id } = await openJob('demo-turn-of-the-tide', 'lantern-rail');
  await atRest();
  vi.spyOn(toRaw(useJob()), 'working').mockResolvedValueOnce(null);
  await useHandover().handOver({ anyway: true });
  expect(useHandover().rows).toEqual([]);
  expect(useShelf().problems).toEqual([]);
  expect((await readJob(id))!.plans[0]!.handovers).toBe(0);
});
