import * as z from 'zod';
import { TargetSchema } from '../../core/target/schema';
import { LeftAsIsSchema, PlanSchema } from '../../core/wire/plan-schema';
import { db, type SourceRow } from './db';
import { JOB_SCHEMA_VERSION, newKey, type JobRecord } from './job';

const state = z.strictObject({
  steps: PlanSchema.shape.steps,
  leftAsIs: LeftAsIsSchema,
  did: z.string().max(2000),
});
const sha = z.string().regex(/^[0-9a-f]{64}$/);
const count = z.int().min(0);

/** A job as a file: `job.json` in a pack, with its sources beside it under `sources/`. */
export const JobSchema = z.strictObject({
  id: z.string().min(1).max(100),
  schemaVersion: z.literal(JOB_SCHEMA_VERSION),
  title: z.string().min(1).max(300),
  changedAt: z.number(),
  sources: z
    .array(
      z.strictObject({
        key: z.string().max(100),
        kind: z.literal('smf'),
        role: z.literal('score'),
        sha256: sha,
        name: z.string().max(300),
        sequence: count.optional(),
      }),
    )
    .min(1)
    .max(100),
  activeTarget: z.string().max(100),
  plans: z
    .array(
      z.strictObject({
        targetId: z.string().max(100),
        version: z.string().max(40),
        target: TargetSchema,
        past: z.array(state).max(500),
        now: state,
        future: z.array(state).max(500),
        handovers: count,
      }),
    )
    .min(1)
    .max(100),
  tally: z.strictObject({ stops: count, cautions: count, remarks: count }).nullable(),
});

export interface PackedFile {
  path: string;
  bytes: Uint8Array;
}

/** The files of a job, ready to be packed. */
export async function jobFiles(job: JobRecord): Promise<PackedFile[]> {
  const text = `${JSON.stringify(job, null, 2)}\n`;
  const files: PackedFile[] = [{ path: 'job.json', bytes: new TextEncoder().encode(text) }];
  for (const sha256 of new Set(job.sources.map((s) => s.sha256))) {
    const row = await db.sources.get(sha256);
    if (row) files.push({ path: `sources/${sha256}.mid`, bytes: new Uint8Array(row.bytes) });
  }
  return files;
}

export type ReadJob =
  | {
      readonly job: JobRecord;
      readonly sources: readonly SourceRow[];
      readonly problem?: undefined;
    }
  | { readonly job?: undefined; readonly problem: string };

const hex = (buffer: ArrayBuffer) =>
  Array.from(new Uint8Array(buffer), (b) => b.toString(16).padStart(2, '0')).join('');

/** Checks the files of a pack; sources must be what their names say. Always gets an id of its own. */
export async function readJobFiles(files: readonly PackedFile[]): Promise<ReadJob> {
  const main = files.find((f) => f.path === 'job.json');
  if (!main) return { problem: 'The pack holds no job.json, so it is not a job of Wary Quill.' };
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(main.bytes));
  } catch (error) {
    return { problem: `job.json is not JSON: ${(error as Error).message}` };
  }
  const result = JobSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    return { problem: `job.json, ${issue.path.join('.') || 'as a whole'}: ${issue.message}.` };
  }
  const job = result.data as JobRecord;
  if (!job.plans.some((p) => p.targetId === job.activeTarget))
    return { problem: `job.json, activeTarget: there is no plan for "${job.activeTarget}".` };
  const sources: SourceRow[] = [];
  for (const { sha256, name } of job.sources) {
    const file = files.find((f) => f.path === `sources/${sha256}.mid`);
    if (!file) return { problem: `The pack lacks the source ${name} (sources/${sha256}.mid).` };
    const bytes = file.bytes.slice().buffer;
    const found = hex(await crypto.subtle.digest('SHA-256', bytes));
    if (found !== sha256)
      return { problem: `The source ${name} is not the one that the job was made with.` };
    sources.push({ sha256, name, bytes });
  }
  const taken = await db.jobs.get(job.id);
  return { job: taken ? { ...job, id: newKey() } : job, sources };
}
