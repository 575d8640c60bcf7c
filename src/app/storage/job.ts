import { whichKey } from '../../core/sources/which';
import type { Figures } from '../../core/compare/say-figures';
import type { JobSource } from '../../core/plan/job-file';
import type { LeftAsIs, PlanStep, Recipe } from '../../core/plan/plan';
import { makeRecipe } from '../../core/plan/use-recipe';
import type { SourceUse } from '../../core/sources/use';
import { isUnsaid } from '../../core/target/unsaid';
import type { Target } from '../../core/target/schema';

/** One state of a plan; undo history is a list of these. */
export interface PlanState {
  /** How each source takes part; what is not said is the default. */
  readonly uses?: readonly SourceUse[];
  /** The sources as this state has them; those of the job where it says nothing. */
  readonly sources?: readonly JobSource[];
  readonly steps: readonly PlanStep[];
  readonly leftAsIs: readonly LeftAsIs[];
  /** What was done to get here, for the undo button: "Put back 3 bars of rest". */
  readonly did: string;
}

export interface TargetPlan {
  readonly targetId: string;
  readonly version: string;
  /** The target as it was when the job took it up: a job pins its target. */
  readonly target: Target;
  readonly past: readonly PlanState[];
  readonly now: PlanState;
  readonly future: readonly PlanState[];
  readonly handovers: number;
}

/** As `core/plan/job-file` reads it. */
export const JOB_SCHEMA_VERSION = 2;

/** A note of what a rehearsal or the real device did, with its place. */
export interface TriedNote {
  readonly key: string;
  /** On the base: it stays with its music. */
  readonly tick: number;
  readonly says: string;
  readonly targetId: string;
  readonly handover: number | null;
  readonly done: boolean;
}

export interface JobRecord {
  readonly id: string;
  readonly schemaVersion: typeof JOB_SCHEMA_VERSION;
  readonly title: string;
  readonly changedAt: number;
  /** Every source that any state of a plan names; bytes are kept for all of them. */
  readonly sources: readonly JobSource[];
  /** The sound that is delivered beside the score; its bytes are kept like those of sources. */
  readonly sound?: { readonly sha256: string; readonly name: string; readonly ms: number };
  /** Name of the sound bank that it is heard with; empty for the one that ships. */
  readonly bank?: string;
  /** What it is for was not said yet: the target is one that stands in. */
  readonly targetOpen?: true;
  /** What was heard while it was tried, here or at the real device. */
  readonly tried?: readonly TriedNote[];
  readonly activeTarget: string;
  readonly plans: readonly TargetPlan[];
  readonly tally: JobTally | null;
}

/** How a job stands, for the list of jobs. */
export interface JobTally {
  readonly stops: number;
  readonly cautions: number;
  readonly remarks: number;
  /** Of a hundred notes of the parts that play, those that are still there. */
  readonly kept?: number;
  /** What waits for somebody to choose. */
  readonly choices?: number;
  /** What a listener follows of it. */
  readonly figures?: Figures;
}

/** A share that is not whole is never said to be: 99 % where one note in a thousand is gone. */
export const jobTally = (
  { stops, cautions, remarks }: Pick<JobTally, 'stops' | 'cautions' | 'remarks'>,
  { seated, kept }: { readonly seated: number; readonly kept: number },
  choices: number,
  figures: Figures,
): JobTally => ({
  stops,
  cautions,
  remarks,
  kept: seated === 0 ? 100 : Math.floor((kept / seated) * 100),
  choices,
  figures,
});

export const EMPTY_STATE: PlanState = { steps: [], leftAsIs: [], did: '' };

export const newPlan = (target: Target, now: PlanState = EMPTY_STATE): TargetPlan => ({
  targetId: target.id,
  version: target.version,
  target,
  past: [],
  now,
  future: [],
  handovers: 0,
});

export const activePlan = (job: JobRecord): TargetPlan =>
  job.plans.find((p) => p.targetId === job.activeTarget) ?? job.plans[0]!;

/** A job that holds a plan for a target: a new one has the sources as the active one has them. */
export function withTarget(job: JobRecord, target: Target): JobRecord {
  const known = job.plans.some((p) => p.targetId === target.id);
  if (known) return { ...job, activeTarget: target.id };
  const { sources, uses } = activePlan(job).now;
  const state = { ...EMPTY_STATE, ...(sources ? { sources } : {}), ...(uses ? { uses } : {}) };
  return { ...job, plans: [...job.plans, newPlan(target, state)], activeTarget: target.id };
}

/** What it is for is said: a target that only stood in goes, where nothing was done for it. */
export function forTarget(job: JobRecord, target: Target): JobRecord {
  const { targetOpen, ...told } = withTarget(job, target);
  const stoodIn = job.plans.find((p) => isUnsaid(p.target));
  if (targetOpen && stoodIn && !job.plans.some((p) => p.targetId === target.id)) {
    // What was done before it was said was done to the music: the plan goes on, its past with it.
    const plan = { ...stoodIn, targetId: target.id, target, version: target.version };
    return { ...told, plans: job.plans.map((p) => (p === stoodIn ? plan : p)) };
  }
  if (!targetOpen || job.activeTarget === target.id) return told;
  const touched = (p: TargetPlan) =>
    p.targetId !== job.activeTarget || p.now.steps.length > 0 || p.handovers > 0;
  return { ...told, plans: told.plans.filter(touched) };
}

/** One handover more for one of its targets. */
export function withHandover(job: JobRecord, targetId: string, handovers: number): JobRecord {
  const of = job.plans.find((p) => p.targetId === targetId);
  return of ? { ...withPlan(job, { ...of, handovers }), changedAt: Date.now() } : job;
}

export const withPlan = (job: JobRecord, plan: TargetPlan): JobRecord => ({
  ...job,
  plans: job.plans.map((p) => (p.targetId === plan.targetId ? plan : p)),
});

/** How many states can be gone back to. */
const MOST_PAST = 200;
const LONGEST_DID = 2000;

export const pushState = (plan: TargetPlan, now: PlanState): TargetPlan => ({
  ...plan,
  past: [...plan.past, plan.now].slice(-MOST_PAST),
  // As long as a file of the job may hold it.
  now:
    now.did.length > LONGEST_DID ? { ...now, did: `${now.did.slice(0, LONGEST_DID - 1)}…` } : now,
  future: [],
});

export function undoState(plan: TargetPlan): TargetPlan {
  const before = plan.past.at(-1);
  if (!before) return plan;
  return { ...plan, past: plan.past.slice(0, -1), now: before, future: [plan.now, ...plan.future] };
}

export function redoState(plan: TargetPlan): TargetPlan {
  const [next, ...future] = plan.future;
  if (!next) return plan;
  return { ...plan, past: [...plan.past, plan.now], now: next, future };
}

export const newKey = (): string => crypto.randomUUID();

/** The sources of a job as its active plan has them now. */
export const sourcesOf = (job: JobRecord): readonly JobSource[] =>
  activePlan(job).now.sources ?? job.sources;

/** A job whose plans all have other sources from here on, each with a way back. */
export function withSources(
  job: JobRecord,
  sources: readonly JobSource[],
  did: string,
  uses?: readonly SourceUse[],
): JobRecord {
  // States that said nothing of sources meant those that the job had: that is written down now.
  const meant = <S extends PlanState>(state: S): S =>
    state.sources ? state : { ...state, sources: job.sources };
  const slot = (f: JobSource) => `${f.sha256}#${f.key}#${whichKey(f)}`;
  const known = new Set(job.sources.map(slot));
  return {
    ...job,
    sources: [...job.sources, ...sources.filter((f) => !known.has(slot(f)))],
    plans: job.plans.map((p) =>
      pushState(
        { ...p, past: p.past.map(meant), now: meant(p.now), future: p.future.map(meant) },
        { ...p.now, sources, ...(uses ? { uses } : {}), did },
      ),
    ),
  };
}

/** The plan that a job has for its target, to be used on other files. */
export function recipeOf(job: JobRecord): Recipe {
  const { target, now } = activePlan(job);
  const { steps, uses, leftAsIs } = now;
  return makeRecipe(
    job.title,
    target,
    { ...(uses ? { uses } : {}), steps },
    leftAsIs,
    sourcesOf(job),
  );
}
