import { db, type HistoryRow } from './db';
import type { JobRecord, TargetPlan } from './job';

/*
 * A job is kept in two rows: what lists and the desk show, and the states that undo and redo go
 * through. The list of jobs is read anew at every save, and would read all histories with it.
 */

const bare = (plan: TargetPlan): TargetPlan => ({ ...plan, past: [], future: [] });

function split(job: JobRecord): { row: JobRecord; history: HistoryRow } {
  const plans = job.plans.map(({ targetId, past, future }) => ({ targetId, past, future }));
  return { row: { ...job, plans: job.plans.map(bare) }, history: { id: job.id, plans } };
}

export async function writeJob(job: JobRecord): Promise<void> {
  const { row, history } = split(job);
  await db.transaction('rw', db.jobs, db.histories, async () => {
    await db.jobs.put(row);
    await db.histories.put(history);
  });
}

/** Saves a job that is still there; false where it was removed meanwhile, and nothing is written. */
export const rewriteJob = (job: JobRecord): Promise<boolean> =>
  db.transaction('rw', db.jobs, db.histories, async () => {
    if ((await db.jobs.where('id').equals(job.id).count()) === 0) return false;
    await writeJob(job);
    return true;
  });

/** A job with its histories. */
export const readJob = (id: string): Promise<JobRecord | undefined> =>
  db.transaction('r', db.jobs, db.histories, async () => {
    const row = await db.jobs.get(id);
    if (!row) return undefined;
    const history = await db.histories.get(id);
    return withHistory(row, history);
  });

export function withHistory(row: JobRecord, history: HistoryRow | undefined): JobRecord {
  const of = (id: string) => history?.plans.find((p) => p.targetId === id);
  return {
    ...row,
    plans: row.plans.map((plan) => {
      const kept = of(plan.targetId);
      return kept ? { ...plan, past: kept.past, future: kept.future } : plan;
    }),
  };
}

export async function changeJob(id: string, change: (job: JobRecord) => JobRecord): Promise<void> {
  await db.transaction('rw', db.jobs, db.histories, async () => {
    const job = await readJob(id);
    if (job) await writeJob(change(job));
  });
}

/** Several jobs in one transaction: who lists jobs is told once. */
export const changeJobs = (
  ids: readonly string[],
  change: (job: JobRecord) => JobRecord,
): Promise<void> =>
  db.transaction('rw', db.jobs, db.histories, async () => {
    for (const id of ids) await changeJob(id, change);
  });

const hashesOf = (job: JobRecord): string[] => [
  ...job.sources.map((s) => s.sha256),
  ...(job.sound ? [job.sound.sha256] : []),
];

/** Takes away the bytes of a file that no job names. */
export const forgetBytes = (sha256: string): Promise<void> =>
  db.transaction('rw', db.jobs, db.sources, async () => {
    const used = (await db.jobs.toArray()).flatMap(hashesOf);
    if (!used.includes(sha256)) await db.sources.delete(sha256);
  });

const DAY_MS = 24 * 60 * 60 * 1000;

/**
 * Takes away bytes that no job has named for a day: of a tab that was closed between reading a file and
 * making a job of it. What was met without a name for the first time is noted, and looked at again.
 */
export const collectBytes = (now = Date.now()): Promise<number> =>
  db.transaction('rw', db.jobs, db.sources, db.settings, async () => {
    const used = new Set((await db.jobs.toArray()).flatMap(hashesOf));
    const nameless = (await db.sources.toCollection().primaryKeys()).filter((k) => !used.has(k));
    const noted = ((await db.settings.get(NAMELESS))?.value ?? {}) as Record<string, number>;
    const since = Object.fromEntries(nameless.map((k) => [k, noted[k] ?? now]));
    const gone = nameless.filter((k) => now - since[k]! >= DAY_MS);
    await db.sources.bulkDelete(gone);
    for (const k of gone) delete since[k];
    await db.settings.put({ key: NAMELESS, value: since });
    return gone.length;
  });
const NAMELESS = 'bytes-without-a-job';

/** Takes a job away with what only it names. */
export const eraseJob = (id: string): Promise<void> =>
  db.transaction('rw', [db.jobs, db.histories, db.handovers, db.sources, db.pictures], async () => {
    const job = await db.jobs.get(id);
    await db.jobs.delete(id);
    await db.histories.delete(id);
    await db.pictures.delete(id);
    await db.handovers.where('jobId').equals(id).delete();
    const used = new Set((await db.jobs.toArray()).flatMap(hashesOf));
    for (const sha256 of job ? hashesOf(job) : [])
      if (!used.has(sha256)) await db.sources.delete(sha256);
  });
