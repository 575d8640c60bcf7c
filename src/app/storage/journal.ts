import type { JobRecord, PlanState, TargetPlan } from './job';

/*
 * What is not yet in the database stands here, written at once: a page that is left or breaks down
 * takes no change with it. The database answers later than a page may live.
 */

interface Entry {
  readonly job: JobRecord;
}

const keyOf = (id: string) => `quill-unsaved-${id}`;
/** The browser gives some five million letters to a page; a larger change waits for the database. */
const MOST_LETTERS = 1_500_000;

/** The job as it stands now, without what undo goes through. */
const bare = (job: JobRecord): JobRecord => ({
  ...job,
  plans: job.plans.map((p) => ({ ...p, past: [], future: [] })),
});

/** Whether it is written: where it is not, the page asks before it is left. */
export function noteUnsaved(job: JobRecord): boolean {
  try {
    const text = JSON.stringify({ job: bare(job) } satisfies Entry);
    if (text.length > MOST_LETTERS) return false;
    localStorage.setItem(keyOf(job.id), text);
    return true;
  } catch {
    return false;
  }
}

export function forgetUnsaved(id: string): void {
  try {
    localStorage.removeItem(keyOf(id));
  } catch {
    // Without a place to write there was nothing to forget.
  }
}

function unsavedOf(id: string): JobRecord | null {
  try {
    const text = localStorage.getItem(keyOf(id));
    const { job } = (text === null ? {} : JSON.parse(text)) as Partial<Entry>;
    return job?.id === id && Array.isArray(job.plans) ? job : null;
  } catch {
    return null;
  }
}

const same = (a: PlanState, b: PlanState) => JSON.stringify(a) === JSON.stringify(b);

/** A plan with what was done to it since; the state that was kept is one step of undo back. */
function caughtUp(kept: TargetPlan | undefined, now: TargetPlan): TargetPlan {
  if (!kept) return now;
  if (same(kept.now, now.now)) return { ...now, past: kept.past, future: kept.future };
  return { ...now, past: [...kept.past, kept.now], future: [] };
}

/** The job as it was when the page was left, where that is newer than what was kept of it. */
export function withUnsaved(kept: JobRecord): JobRecord | null {
  const job = unsavedOf(kept.id);
  if (!job || job.schemaVersion !== kept.schemaVersion) return null;
  if (job.changedAt <= kept.changedAt) return null;
  const of = (id: string) => kept.plans.find((p) => p.targetId === id);
  return { ...job, plans: job.plans.map((p) => caughtUp(of(p.targetId), p)) };
}
