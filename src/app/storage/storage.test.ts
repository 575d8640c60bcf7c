// @vitest-environment node
import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { beforeEach, describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { builtIn } from '../../../testing/score-builder';
import { bytesOf, db, storageProblem } from './db';
import { jobFiles, readJobFiles } from './job-file';
import {
  activePlan,
  EMPTY_STATE,
  newPlan,
  pushState,
  redoState,
  undoState,
  type JobRecord,
} from './job';

const bytes = week[0]!.bytes();
const sha256 = createHash('sha256').update(bytes).digest('hex');
const job: JobRecord = {
  id: 'one',
  schemaVersion: 2,
  title: 'Tide',
  changedAt: 1,
  sources: [{ key: 'main', kind: 'smf', role: 'score', sha256, name: 'tide.mid' }],
  activeTarget: 'lantern-rail',
  plans: [newPlan(builtIn('lantern-rail')), newPlan(builtIn('bell-loft'))],
  tally: { stops: 1, cautions: 0, remarks: 0, kept: 92, choices: 3 },
};
const state = (did: string) => ({ ...EMPTY_STATE, did });

beforeEach(async () => {
  await Promise.all([db.jobs.clear(), db.histories.clear(), db.sources.clear()]);
  await db.sources.put({ sha256, name: 'tide.mid', bytes: bytes.slice().buffer });
});

describe('history', () => {
  it('undo and redo walk through the states; a change drops what was undone', () => {
    const a = pushState(newPlan(builtIn('bell-loft')), state('a'));
    const b = pushState(a, state('b'));
    expect(undoState(b).now.did).toBe('a');
    expect(redoState(undoState(b))).toEqual(b);
    expect(pushState(undoState(b), state('c')).future).toEqual([]);
    expect(undoState(newPlan(builtIn('bell-loft'))).past).toEqual([]);
  });
  it('is bounded', () => {
    let plan = newPlan(builtIn('bell-loft'));
    for (let i = 0; i < 300; i++) plan = pushState(plan, state(String(i)));
    expect(plan.past).toHaveLength(200);
  });
  it('each target has its own plan', () => {
    expect(activePlan({ ...job, activeTarget: 'bell-loft' }).target.name).toBe('Bell loft striker');
  });
});

describe('a job as a file', () => {
  it('comes back as it was, with its source', async () => {
    const read = await readJobFiles(await jobFiles(job));
    if (!read.job) throw new Error(read.problem);
    expect(read.job).toEqual(job);
    expect(Buffer.from(await bytesOf(read.sources[0]!)).equals(Buffer.from(bytes))).toBe(true);
  });
  it('a recording is kept as the file that it came as, and goes along', async () => {
    const heard = Uint8Array.of(82, 73, 70, 70, 1, 2, 3);
    await db.sources.put({ sha256: 'cd'.repeat(32), name: 'quay.wav', bytes: new Blob([heard]) });
    const sound = { sha256: 'cd'.repeat(32), name: 'quay.wav', ms: 1000 };
    const files = await jobFiles({ ...job, sound });
    expect(files.some((f) => Buffer.from(f.bytes).equals(heard))).toBe(true);
  });
  it('gets another id where its own is taken', async () => {
    await db.jobs.put(job);
    const read = await readJobFiles(await jobFiles(job));
    expect(read.job!.id).not.toBe('one');
    expect(read.job!.title).toBe('Tide');
  });
  const text = (data: unknown) => new TextEncoder().encode(JSON.stringify(data));
  it.each([
    ['no job.json', [], /no job\.json/],
    [
      'a strange key',
      [{ path: 'job.json', bytes: text({ ...job, extra: 1 }) }],
      /is not a known key/,
    ],
    [
      'another schema',
      [{ path: 'job.json', bytes: text({ ...job, schemaVersion: 9 }) }],
      /schemaVersion/,
    ],
    ['no source', [{ path: 'job.json', bytes: text(job) }], /lacks the source/],
    [
      'another source than it says',
      [
        { path: 'job.json', bytes: text(job) },
        { path: `sources/${sha256}.mid`, bytes: Uint8Array.of(1) },
      ],
      /not the one/,
    ],
  ])('%s is refused with a sentence', async (_, files, says) => {
    expect((await readJobFiles(files)).problem).toMatch(says);
  });
});

it('says why nothing can be kept', () => {
  expect(storageProblem({ name: 'QuotaExceededError' })).toMatch(/no room left/);
  expect(storageProblem(new Error('x'))).toMatch(/does not let/);
  expect(storageProblem({ inner: { name: 'QuotaExceededError' } }, 'file')).toMatch(/Remove jobs/);
});
