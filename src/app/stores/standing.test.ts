import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { atRest, droppedFile, emptyBase, openJob } from '../../../testing/open-job';
import { builtIn } from '../../../testing/score-builder';
import { WebLocks } from '../../../testing/web-locks';
import { db } from '../storage/db';
import { collectBytes, readJob } from '../storage/jobs';
import { forgetUnsaved, noteUnsaved, withUnsaved } from '../storage/journal';
import { useHand } from './hand';
import { useHandover } from './handover';
import { useJob } from './job';
import { useLooking } from './looking';
import { useRecording } from './recording';

const transpose = (semitones: number) => ({
  step: 'transpose',
  params: { semitones },
  scope: {},
  on: true,
});

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});
// A navigator of its own would stay behind for the files after this one.
afterEach(() => void Reflect.deleteProperty(navigator, 'locks'));

describe('a proof that is given up', () => {
  it('is told as not proofed, offers and judges nothing, and can be done again', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    expect(job.standing).toBe('current');
    expect(job.findings.length).toBeGreaterThan(0);
    const before = job.findings.length;
    const choosing = job.chooseTarget(builtIn('parlour-keyboard'));
    expect(job.standing).toBe('running');
    job.giveUp();
    await choosing;
    expect(job.standing).toBe('stopped');
    expect(job.findings).toEqual([]);
    expect(job.losslessCount).toBe(0);
    await eventually(async () =>
      expect((await db.jobs.get('demo-turn-of-the-tide'))!.tally).toBeNull(),
    );
    await useHandover().handOver({ anyway: true });
    expect(useHandover().problem).toMatch(/not proofed/);
    await job.proofAgain();
    await atRest();
    expect(job.standing).toBe('current');
    expect(job.findings.length).not.toBe(before);
  });
  it('leaves later mends to be done', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    job.addSteps('Up', [transpose(1)]);
    expect(job.standing).toBe('running');
    job.giveUp();
    await eventually(() => expect(job.standing).toBe('stopped'));
    await job.proofAgain();
    await atRest();
    const steps = job.plan!.now.steps.length;
    const finding = job.findings.find((f) => f.mends.length > 0)!;
    job.applyMend('Mend', finding.mends[0]!.steps);
    expect(job.plan!.now.steps.length).toBeGreaterThan(steps);
  });
});

describe('a change is made once', () => {
  it('a double click on what adds a step adds one; another step is another change', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    job.addSteps('Up', [transpose(1)]);
    job.addSteps('Up', [transpose(1)]);
    expect(job.plan!.now.steps).toHaveLength(1);
    job.addSteps('Up more', [transpose(2)]);
    expect(job.plan!.now.steps).toHaveLength(2);
    await atRest();
    // On the screen by now: the same again is meant.
    job.addSteps('Up more', [transpose(2)]);
    expect(job.plan!.now.steps).toHaveLength(3);
  });
  it('what is in the hand is undone first, and what was undone before comes back', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    job.addSteps('Up', [transpose(1)]);
    await atRest();
    const looking = useLooking();
    const hand = useHand();
    const part = job.shown!.delivered.parts.find((p) => p.columns.count > 0)!;
    looking.chosen = new Set([part.columns.id[0]!]);
    hand.nudge({ semitones: 1 });
    job.undo();
    await eventually(() => expect(job.plan!.future).toHaveLength(1));
    await atRest();
    expect(job.plan!.now.steps.map((s) => s.step)).toEqual(['transpose']);
    expect(job.plan!.future[0]!.did).toMatch(/by hand/);
  });
  it('nudges that do not end are put in meanwhile', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    const part = job.shown!.delivered.parts.find((p) => p.columns.count > 0)!;
    useLooking().chosen = new Set([part.columns.id[0]!]);
    // Each comes before the one before would be put in by itself.
    await eventually(() => {
      useHand().nudge({ semitones: 1 });
      expect(job.plan!.now.steps.map((s) => s.step)).toEqual(['by-hand']);
    });
  });
});

describe('what a page could not keep any more', () => {
  it('is there when the job is opened again, one undo away from what was kept', async () => {
    const kept = await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    await atRest();
    const row = (await readJob(kept.id))!;
    job.addSteps('Up', [transpose(1)]);
    // Written at once: the database was not asked yet.
    const left = withUnsaved(row)!;
    expect(left.plans[0]!.now.steps.map((s) => s.step)).toEqual(['transpose']);
    expect(left.plans[0]!.past.at(-1)).toEqual(row.plans[0]!.now);
    await atRest();
    await eventually(() => expect(withUnsaved(row)).toBeNull());
    // A page that died before its database wrote.
    const other = { ...row, changedAt: row.changedAt + 1000 };
    noteUnsaved({
      ...other,
      plans: [{ ...other.plans[0]!, now: { ...other.plans[0]!.now, steps: [], did: 'Late' } }],
    });
    await db.jobs.put(row);
    setActivePinia(createPinia());
    await useJob().open(kept.id);
    await atRest();
    expect(useJob().plan!.now.did).toBe('Late');
    expect(useJob().plan!.past.length).toBeGreaterThan(0);
  });
  it('of something else, or older, is left alone', async () => {
    const kept = await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const row = (await readJob(kept.id))!;
    noteUnsaved({ ...row, changedAt: row.changedAt });
    expect(withUnsaved(row)).toBeNull();
    localStorage.setItem(`quill-unsaved-${kept.id}`, '{"job":{"id":"x"}}');
    expect(withUnsaved(row)).toBeNull();
    localStorage.setItem(`quill-unsaved-${kept.id}`, 'no');
    expect(withUnsaved(row)).toBeNull();
    forgetUnsaved(kept.id);
    expect(localStorage.length).toBe(0);
  });
});

describe('nothing is left behind', () => {
  it('a tab that may only read takes no recording and keeps no bytes of it', async () => {
    const locks = new WebLocks();
    Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
    const kept = await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const pinia = createPinia();
    setActivePinia(pinia);
    await useJob().open(kept.id);
    await eventually(() => expect(useJob().readOnly).toBe(true));
    const before = await db.sources.count();
    expect(await useRecording().bring(droppedFile('night.wav', new Uint8Array(64)))).toBe(false);
    expect(useRecording().problem).toMatch(/another tab/);
    expect(await db.sources.count()).toBe(before);
  });
  it('bytes that no job has named for a day go', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    await db.sources.put({ sha256: 'nobody', name: 'x.mid', bytes: new ArrayBuffer(4) });
    const now = Date.now();
    expect(await collectBytes(now)).toBe(0);
    expect(await collectBytes(now + 1000)).toBe(0);
    expect(await collectBytes(now + 25 * 3_600_000)).toBe(1);
    expect(await db.sources.count()).toBe(1);
  });
  it('the lock is let go when the last save is done', async () => {
    const locks = new WebLocks();
    Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
    const kept = await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const job = useJob();
    job.addSteps('Up', [transpose(1)]);
    job.close();
    expect(locks.names).toHaveLength(1);
    await eventually(() => expect(locks.names).toEqual([]));
    expect((await readJob(kept.id))!.plans[0]!.now.steps).toHaveLength(1);
  });
});
