import type { LeftAsIs, PlanStep } from '../../core/plan/model';
import type { Target } from '../../core/target/schema';

/** One state of a plan; undo history is a list of these. */
export interface PlanState {
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

export interface JobSource {
  readonly key: string;
  readonly kind: 'smf';
  readonly role: 'score';
  readonly sha256: string;
  readonly name: string;
  /** Format 2: the chosen sequence, from 0. */
  readonly sequence?: number;
}

export const JOB_SCHEMA_VERSION = 1;

export interface JobRecord {
  readonly id: string;
  readonly schemaVersion: typeof JOB_SCHEMA_VERSION;
  readonly title: string;
  readonly changedAt: number;
  readonly sources: readonly JobSource[];
  readonly activeTarget: string;
  readonly plans: readonly TargetPlan[];
  readonly tally: {
    readonly stops: number;
    readonly cautions: number;
    readonly remarks: number;
  } | null;
}

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

export const withPlan = (job: JobRecord, plan: TargetPlan): JobRecord => ({
  ...job,
  plans: job.plans.map((p) => (p.targetId === plan.targetId ? plan : p)),
});

/** How many states can be gone back to. */
const MOST_PAST = 200;

export const pushState = (plan: TargetPlan, now: PlanState): TargetPlan => ({
  ...plan,
  past: [...plan.past, plan.now].slice(-MOST_PAST),
  now,
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
