import { ModuleChoicesSchema } from '../sources/module/choices';
import * as z from 'zod';
import { sayLater } from '../diagnostic/later-version';
import { sayIssue } from '../diagnostic/say-issue';
import { TargetSchema } from '../target/schema';
import { LeftAsIsSchema, PlanSchema } from './plan-schema';
import type { PlanStep } from './plan';

/** Version 1 is that of 0.2: its scopes count in the ticks of the piece as a step meets it. */
export const JOB_SCHEMA_VERSION = 2;

const sha = z.string().regex(/^[0-9a-f]{64}$/);
const count = z.int().min(0);

const source = z.strictObject({
  key: z.string().min(1).max(100),
  kind: z.literal('smf'),
  role: z.literal('score'),
  sha256: sha,
  name: z.string().max(300),
  sequence: count.optional(),
  reading: ModuleChoicesSchema.optional(),
});
const sources = z.array(source).min(1).max(64);

const state = z.strictObject({
  ...PlanSchema.shape,
  sources: sources.optional(),
  leftAsIs: LeftAsIsSchema,
  did: z.string().max(2000),
});

/** A job as a file: `job.json` in a pack, with its sources beside it under `sources/`. */
export const share = z.number().min(0).max(1).nullable();
const JobSchema = z.strictObject({
  id: z.string().min(1).max(100),
  schemaVersion: z.literal([1, JOB_SCHEMA_VERSION]),
  title: z.string().min(1).max(300),
  changedAt: z.number(),
  sources,
  /** The companion sound; its bytes stand under `sources/` too. */
  sound: z
    .strictObject({ sha256: sha, name: z.string().min(1).max(300), ms: z.number() })
    .optional(),
  /** What a rehearsal or the real device did, with its place; ticks of the base. */
  tried: z
    .array(
      z.strictObject({
        key: z.string().min(1).max(100),
        tick: count,
        says: z.string().min(1).max(2000),
        targetId: z.string().max(100),
        /** The handover that it was heard of; null in a rehearsal before the first. */
        handover: count.nullable(),
        done: z.boolean(),
      }),
    )
    .max(2000)
    .optional(),
  /** The sound bank that it is heard with, by its name; empty for the one that ships. */
  bank: z.string().max(300).optional(),
  activeTarget: z.string().max(100),
  /** What it is for was not said yet: the target is one that stands in. */
  targetOpen: z.literal(true).optional(),
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
  tally: z
    .strictObject({
      stops: count,
      cautions: count,
      remarks: count,
      kept: z.int().min(0).max(100).optional(),
      choices: count.optional(),
      figures: z.strictObject({ tune: share, bass: share, beat: share, chords: share }).optional(),
    })
    .nullable(),
});

export type JobSource = Readonly<z.infer<typeof source>>;
export type JobData = Readonly<z.infer<typeof JobSchema>>;

/** The steps of a plan of 0.2: their stretches are marked as of the piece that the step meets. */
export const upgradeSteps = (steps: readonly PlanStep[]): PlanStep[] =>
  steps.map((step) =>
    step.scope.fromTick === undefined && step.scope.toTick === undefined
      ? step
      : { ...step, scope: { ...step.scope, met: true } },
  );

interface OldJob {
  readonly schemaVersion: number;
  readonly plans: readonly {
    readonly past: readonly OldState[];
    readonly now: OldState;
    readonly future: readonly OldState[];
  }[];
}
interface OldState {
  readonly steps: readonly PlanStep[];
}

/** A job as this version keeps it; nothing of one of 0.2 is lost. */
export function upgradeJob<T extends OldJob>(job: T): T {
  if (job.schemaVersion === JOB_SCHEMA_VERSION) return job;
  const state = <S extends OldState>(s: S): S => ({ ...s, steps: upgradeSteps(s.steps) });
  return {
    ...job,
    schemaVersion: JOB_SCHEMA_VERSION,
    plans: job.plans.map((p) => ({
      ...p,
      past: p.past.map(state),
      now: state(p.now),
      future: p.future.map(state),
    })),
  };
}

export type ReadJobFile =
  | { readonly job: JobData; readonly problem?: undefined }
  | { readonly job?: undefined; readonly problem: string };

/** Checks a `job.json`; what it says of sources is for the caller to hold against their bytes. */
export function parseJob(text: string): ReadJobFile {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return {
      problem: `The job.json in it is not whole (${(error as Error).message}). Take another copy of the file, or save the job again.`,
    };
  }
  const later = sayLater(data, 'schemaVersion', JOB_SCHEMA_VERSION);
  if (later !== null) return { problem: later };
  const result = JobSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    return { problem: `job.json, ${issue.path.join('.') || 'as a whole'}: ${sayIssue(issue)}` };
  }
  const job = upgradeJob(result.data as never as OldJob) as never as JobData;
  if (!job.plans.some((p) => p.targetId === job.activeTarget))
    return { problem: `job.json, activeTarget: there is no plan for "${job.activeTarget}".` };
  return { job };
}

/** The path of the companion sound in the pack of a job. */
export const soundPath = (sha256: string): string => `sources/${sha256}.wav`;

/** The path of a source in the pack of a job. */
export const sourcePath = (sha256: string): string => `sources/${sha256}.mid`;

/** The formats of somebody's own that a source is read by. */
export const formatPath = (sha256: string): string => `sources/${sha256}.format.json`;
