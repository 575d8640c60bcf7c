import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { db } from '../storage/db';
import { useFit } from './fit';
import { useJob } from './job';
import { useShelf } from './shelf';
import { useTargets } from './targets';

const fileOf = (id: string) => {
  const job = week.find((j) => j.id === id)!;
  const bytes = job.bytes();
  return {
    name: job.file,
    size: bytes.length,
    arrayBuffer: async () => bytes.slice().buffer,
  } as unknown as File;
};

beforeEach(async () => {
  setActivePinia(createPinia());
  await Promise.all([
    db.jobs.clear(),
    db.histories.clear(),
    db.sources.clear(),
    db.targets.clear(),
  ]);
  await useTargets().load();
});

it('dropped songs are tried on the chosen targets, and make no job', async () => {
  const fit = useFit();
  fit.targetIds = ['strip-organ', 'pattern-pads'];
  await fit.take([fileOf('demo-paper-march'), fileOf('demo-boat-shed-loop')]);
  expect(fit.rows.map((s) => s.title)).toEqual(['paper-march', 'boat-shed-loop']);
  expect([fit.done, fit.total, fit.running]).toEqual([4, 4, false]);
  for (const song of fit.rows)
    for (const target of fit.columns)
      expect(fit.cell(song, target)).toMatchObject({ now: {}, mended: {} });
  expect(await db.jobs.count()).toBe(0);
});

it('a cell that is opened makes the job, with a plan for that target', async () => {
  const fit = useFit();
  fit.targetIds = ['strip-organ'];
  await fit.take([fileOf('demo-paper-march')]);
  const id = await fit.openCell(fit.rows[0]!, fit.columns[0]!);
  expect(await db.jobs.get(id)).toMatchObject({
    title: 'paper-march',
    activeTarget: 'strip-organ',
    plans: [{ targetId: 'strip-organ' }],
  });
  expect(fit.songKeys).toEqual([id]);
});

it('a job keeps its plans: another target is added beside them, and its own plan is what counts', async () => {
  const fit = useFit();
  const shelf = useShelf();
  const [id] = await shelf.dropFiles([fileOf('demo-paper-march')]);
  shelf.watchJobs();
  await eventually(() => expect(shelf.jobs.length).toBe(1));
  const first = (await db.jobs.get(id!))!.activeTarget;
  const organ = useTargets().find('strip-organ')!;
  const song = fit.songs.find((s) => s.jobId === id)!;
  await fit.openCell(song, organ);
  const saved = (await db.jobs.get(id!))!;
  expect(saved.plans.map((p) => p.targetId)).toEqual([first, 'strip-organ']);
  expect(saved.activeTarget).toBe('strip-organ');
  const job = useJob();
  await job.open(id!);
  await eventually(() => expect(job.findings.length).toBeGreaterThan(0));
  const found = job.findings.find((f) => f.code === 'off-row')!;
  job.addSteps('rows', found.mends[0]!.steps);
  await eventually(async () => {
    const kept = (await db.jobs.get(id!))!.plans.find((p) => p.targetId === 'strip-organ')!;
    expect(kept.now.steps.length).toBe(2);
  });
  await eventually(() =>
    expect(shelf.jobs[0]!.plans.find((p) => p.targetId === 'strip-organ')!.now.steps.length).toBe(
      2,
    ),
  );
  fit.songKeys = [id!];
  fit.targetIds = ['strip-organ'];
  await fit.run();
  // What is tried is the plan as it stands in the job: the same stops, one fewer than before.
  await eventually(() => expect(job.findings.some((f) => f.code === 'off-row')).toBe(false));
  expect(fit.cell(fit.rows[0]!, organ)).toMatchObject({ now: { stops: job.tally.stops } });
  // A change makes what was tried stale: it is no longer shown as if it held.
  job.undo();
  await eventually(() => expect(fit.cell(fit.rows[0]!, organ)).toBeNull());
  job.close();
});

it('what cannot be read is said, and the others are still tried', async () => {
  const fit = useFit();
  fit.targetIds = ['strip-organ'];
  const junk = {
    name: 'junk.mid',
    size: 4,
    arrayBuffer: async () => new TextEncoder().encode('junk').buffer,
  } as unknown as File;
  await fit.take([junk, fileOf('demo-paper-march')]);
  expect(fit.rows.map((s) => s.title)).toEqual(['paper-march']);
  expect(useShelf().problems.join()).toMatch(/junk\.mid/);
});
