import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { droppedFile, emptyBase, songFile } from '../../../testing/open-job';
import { builtIn, conductor, smf, Track } from '../../../testing/score-builder';
import { WebLocks } from '../../../testing/web-locks';
import { lockName } from '../storage/locks';
import { withTarget } from '../storage/job';
import { changeJob, readJob } from '../storage/jobs';
import { useMendSet } from './mend-set';
import { useSet } from './set';
import { useSets } from './sets';
import { useShelf } from './shelf';

let locks: WebLocks;
beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
  locks = new WebLocks();
  Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
});
afterEach(() => {
  useSet().close();
  Reflect.deleteProperty(navigator, 'locks');
});

const line = (name: string) =>
  droppedFile(name, smf(1, 480, [conductor(), new Track('Keys').note(1, 0, 480, 60, 90)]));

async function setOf(files: Parameters<ReturnType<typeof useShelf>['dropFiles']>[0]) {
  const shelf = useShelf();
  shelf.watchJobs();
  const ids = await shelf.dropFiles(files);
  await eventually(() => expect(shelf.jobs).toHaveLength(ids.length));
  const open = useSet();
  open.open(
    await useSets().make(
      'Quay',
      ids.map((id) => shelf.jobs.find((j) => j.id === id)!),
    ),
  );
  await eventually(() => expect(open.lines.map((l) => l.job?.id)).toEqual(ids));
  return { open, shelf, ids };
}

describe('songs of a set', () => {
  it('are told at once what they are for; one that a tab has open stays, and is named', async () => {
    const { open, shelf, ids } = await setOf([
      line('ebb.mid'),
      line('flood.mid'),
      line('neap.mid'),
    ]);
    expect(open.unsaid).toHaveLength(3);
    let letGo = () => {};
    const elsewhere = new Promise<void>((done) => (letGo = done));
    void locks.request(lockName(ids[1]!), {}, () => elsewhere);
    await open.sayTarget(builtIn('lantern-rail'));
    await eventually(() => expect(open.unsaid.map((l) => l.title)).toEqual(['flood']));
    expect(open.lines.map((l) => l.row.target === 'lantern-rail')).toEqual([true, false, true]);
    expect(open.lines.map((l) => l.problem)).toEqual([null, null, null]);
    expect(shelf.problems).toEqual(['flood is open in another tab: choose its target there.']);
    letGo();
    await eventually(() => expect(locks.names).toEqual([]));
    await open.sayTarget(builtIn('lantern-rail'));
    expect(open.unsaid).toEqual([]);
  });

  it('are mended each by itself: what it came to, and which could not be', async () => {
    const { open, ids } = await setOf([songFile('demo-turn-of-the-tide'), line('neap.mid')]);
    await open.sayTarget(builtIn('lantern-rail'));
    await eventually(() => expect(open.unsaid).toEqual([]));
    const mending = useMendSet();
    mending.begin();
    await mending.run('drop', true);
    expect(mending.said).toMatch(/^2 songs mended; (no stop|\d+ stops?) remains?\.$/);
    expect(mending.rows.map((r) => r.key).sort()).toEqual(open.lines.map((l) => l.row.key).sort());
    const said = mending.rows.find((r) => r.title === 'turn of the tide')!;
    expect(said.says).toMatch(/^\d+ mends · .*(kept|drops)/);
    expect((await readJob(ids[0]!))!.plans[0]!.now.did).toBe(
      `Mended with the set (${said.reply.applied.length})`,
    );
    // The row says another target than its job has.
    await open.change(
      { is: 'target', keys: [open.lines[1]!.row.key], target: 'bell-loft' },
      'For Bell loft',
    );
    await mending.run('drop', true);
    expect(mending.notDone).toEqual(['neap: its job is not for this target any more.']);
  });

  it('a job that stands in it more than once is mended for each of its targets, one by one', async () => {
    const files = [songFile('demo-turn-of-the-tide'), line('neap.mid')];
    const { open, ids } = await setOf(files);
    await open.sayTarget(builtIn('lantern-rail'));
    await eventually(() => expect(open.unsaid).toEqual([]));
    await changeJob(ids[0]!, (j) => withTarget(j, builtIn('bell-loft')));
    await eventually(() => expect(open.lines[0]!.job!.plans).toHaveLength(2));
    const job = open.lines[0]!.job!;
    await open.addJobs([job, { ...job, activeTarget: 'lantern-rail' }]);
    await eventually(() => expect(open.lines).toHaveLength(4));
    const mending = useMendSet();
    await mending.run('drop', true);
    expect(mending.notDone).toEqual([]);
    expect(mending.rows).toHaveLength(4);
    const { plans } = (await readJob(ids[0]!))!;
    expect(plans.map((p) => p.targetId).sort()).toEqual(['bell-loft', 'lantern-rail']);
    expect(plans.every((p) => p.past.length === 1)).toBe(true);
  });
});
