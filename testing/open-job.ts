import { createHash } from 'node:crypto';
import { expect, vi } from 'vitest';
import { week } from '../demo/week';
import type { PlanStep } from '../src/core/plan/plan';
import { useJob } from '../src/app/stores/job';
import { db } from '../src/app/storage/db';
import { EMPTY_STATE, newPlan, type JobRecord } from '../src/app/storage/job';
import { builtIn } from './score-builder';

/** What the browser keeps is empty. */
export const emptyBase = (): Promise<unknown> => Promise.all(db.tables.map((t) => t.clear()));

/** The screen stands for the plan as it is, and all of it is saved. */
export async function atRest(): Promise<void> {
  const job = useJob();
  await vi.waitFor(() => {
    expect(job.shown).not.toBeNull();
    expect(job.idle).toBe(true);
  });
}

/** Opens a job of the week as it comes, on a target. */
export async function openJob(
  id: string,
  targetId: string,
  steps: readonly PlanStep[] = [],
): Promise<JobRecord> {
  const job = week.find((j) => j.id === id)!;
  const bytes = job.bytes();
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const record: JobRecord = {
    id,
    schemaVersion: 2,
    title: job.title,
    changedAt: 1,
    sources: [{ key: 'main', kind: 'smf', role: 'score', sha256, name: job.file }],
    activeTarget: targetId,
    plans: [newPlan(builtIn(targetId), { ...EMPTY_STATE, steps })],
    tally: null,
  };
  await db.sources.put({ sha256, name: job.file, bytes: bytes.slice().buffer });
  await db.jobs.put(record);
  await useJob().open(id);
  await atRest();
  return record;
}

/** A song of the week as a file that was dropped. */
export function songFile(id: string, name?: string): File {
  const job = week.find((j) => j.id === id)!;
  const bytes = job.bytes();
  return {
    name: name ?? job.file,
    size: bytes.length,
    arrayBuffer: async () => bytes.slice().buffer,
  } as unknown as File;
}
