import { Blob as NodeBlob, File as NodeFile } from 'node:buffer';
import { createHash } from 'node:crypto';
import { eventually } from './eventually';
import { expect } from 'vitest';
import { week } from '../demo/week';
import type { PlanStep } from '../src/core/plan/plan';
import { useJob } from '../src/app/stores/job';
import { db } from '../src/app/storage/db';
import { EMPTY_STATE, newPlan, type JobRecord } from '../src/app/storage/job';
import { builtIn } from './score-builder';

// The one that can be cloned into a base.
globalThis.Blob = NodeBlob as never;

/** What the browser keeps is empty. */
export function emptyBase(): Promise<unknown> {
  localStorage.clear();
  return Promise.all(db.tables.map((t) => t.clear()));
}

export const hashOf = (bytes: Uint8Array): string =>
  createHash('sha256').update(bytes).digest('hex');

/** The screen stands for the plan as it is, and all of it is saved. */
export async function atRest(): Promise<void> {
  const job = useJob();
  await eventually(() => {
    expect(job.shown).not.toBeNull();
    expect(job.idle).toBe(true);
  });
}

export interface SongToOpen {
  readonly id: string;
  readonly title: string;
  readonly file: string;
  readonly bytes: Uint8Array;
  readonly targetId: string;
  readonly steps?: readonly PlanStep[];
  readonly more?: Partial<JobRecord>;
}

/** Opens a job of one file, on a target. */
export async function openSong(song: SongToOpen): Promise<JobRecord> {
  const { id, title, file: name, bytes, targetId, steps = [], more = {} } = song;
  const sha256 = hashOf(bytes);
  const record: JobRecord = {
    id,
    schemaVersion: 2,
    title,
    changedAt: 1,
    sources: [{ key: 'main', kind: 'smf', role: 'score', sha256, name }],
    activeTarget: targetId,
    plans: [newPlan(builtIn(targetId), { ...EMPTY_STATE, steps })],
    tally: null,
    ...more,
  };
  await db.sources.put({ sha256, name, bytes: bytes.slice().buffer });
  await db.jobs.put(record);
  await useJob().open(id);
  await atRest();
  return record;
}

/** Opens a job of the week as it comes, on a target. */
export async function openJob(
  id: string,
  targetId: string,
  steps: readonly PlanStep[] = [],
): Promise<JobRecord> {
  const { title, file, bytes } = week.find((j) => j.id === id)!;
  return openSong({ id, title, file, bytes: bytes(), targetId, steps });
}

/** Bytes as a file that was dropped; the base keeps it as the same bytes. */
export const droppedFile = (name: string, bytes: Uint8Array): File =>
  new NodeFile([bytes.slice()], name) as unknown as File;

/** A file that says how large it is, and is not to be read for it. */
export const hugeFile = (name: string, size: number): File =>
  ({
    name,
    size,
    type: '',
    arrayBuffer: () => Promise.reject(new Error('it was read')),
  }) as unknown as File;

/** A song of the week as a file that was dropped. */
export function songFile(id: string, name?: string): File {
  const job = week.find((j) => j.id === id)!;
  return droppedFile(name ?? job.file, job.bytes());
}
