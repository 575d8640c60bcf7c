import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import { QuillDb } from './db';
import { withHistory } from './jobs';

/** A database as version 0.2 wrote it. */
async function oldDatabase(name: string) {
  const old = new Dexie(name);
  old.version(1).stores({
    sources: 'sha256',
    jobs: 'id, changedAt',
    handovers: 'id, jobId, [jobId+targetId]',
    settings: 'key',
  });
  old.version(2).stores({ targets: 'id' });
  const stretched = {
    key: 's1',
    step: 'transpose',
    params: { semitones: 12 },
    scope: { fromTick: 960, toTick: 1920 },
    on: true,
  };
  const state = (did: string, steps: unknown[]) => ({ steps, leftAsIs: [], did });
  await old.table('jobs').put({
    id: 'old',
    schemaVersion: 1,
    title: 'From the old house',
    changedAt: 5,
    sources: [{ key: 'main', kind: 'smf', role: 'score', sha256: 'x', name: 'old.mid' }],
    activeTarget: 'bell-loft',
    plans: [
      {
        targetId: 'bell-loft',
        version: '1.0.0',
        target: builtIn('bell-loft'),
        past: [state('', []), state('Up', [stretched])],
        now: state('Up again', [stretched]),
        future: [state('Later', [])],
        handovers: 3,
      },
    ],
    tally: null,
  });
  await old.table('targets').put({ id: 'own', target: { id: 'own' }, learnt: [], changedAt: 1 });
  await old.table('settings').put({ key: 'light', value: 'booth' });
  old.close();
}

it('a database of version 0.2 opens with every plan, its meaning and its way back', async () => {
  await oldDatabase('upgrade');
  const db = new QuillDb('upgrade');
  const row = (await db.jobs.get('old'))!;
  expect(row).toMatchObject({ schemaVersion: 2, title: 'From the old house' });
  expect(row.plans[0]!.past).toEqual([]);
  const job = withHistory(row, await db.histories.get('old'));
  const [plan] = job.plans;
  expect(plan!.past.map((s) => s.did)).toEqual(['', 'Up']);
  expect(plan!.future.map((s) => s.did)).toEqual(['Later']);
  expect(plan!.handovers).toBe(3);
  // A stretch of 0.2 counted in the ticks of the piece as the step met it, and still does.
  for (const state of [plan!.now, plan!.past[1]!])
    expect(state.steps[0]!.scope).toMatchObject({
      fromTick: 960,
      toTick: 1920,
      met: true,
    });
  expect((await db.settings.get('light'))!.value).toBe('booth');
  expect(await db.targets.count()).toBe(1);
  db.close();
});
