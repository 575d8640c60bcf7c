import { computed, ref, shallowRef } from 'vue';
import type { JobSource } from '../../../core/plan/job-file';
import type { Target } from '../../../core/target/schema';
import { storageProblem } from '../../storage/db';
import { forgetBytes, readJob, rewriteJob } from '../../storage/jobs';
import {
  activePlan,
  sourcesOf,
  withHandover,
  withPlan,
  forTarget,
  type JobRecord,
  type TargetPlan,
} from '../../storage/job';
import { forgetUnsaved, noteUnsaved, withUnsaved } from '../../storage/journal';
import { heldJob } from './lock';

/** The document: what is kept of the job that is open, and by whom it may be written. */
/** As long as a file of the job may have it. */
const LONGEST_TITLE = 300;

export function makeDocument() {
  const record = shallowRef<JobRecord | null>(null);
  const saveProblem = ref<string | null>(null);
  /** Another tab has this job. */
  const readOnly = ref(false);
  const missing = ref(false);
  /** What could not be read. */
  const readProblem = ref<string | null>(null);
  /** Saves that are under way. */
  const unsaved = ref(0);
  /** Something is on its way that would be lost with the page. */
  const atRisk = ref(false);

  const sourcesNow = computed<readonly JobSource[]>(() =>
    record.value ? sourcesOf(record.value) : [],
  );
  const plan = computed<TargetPlan | null>(() => (record.value ? activePlan(record.value) : null));
  const target = computed<Target | null>(() => plan.value?.target ?? null);

  let held: { release(): void } | null = null;
  let saving: Promise<void> = Promise.resolve();
  let round = 0;

  /**
   * Reads a job and holds it against other tabs. `onFree` is called when another tab that had it let
   * go: what it saved was read then. False where there is nothing to show.
   */
  async function open(id: string, onFree: () => void): Promise<boolean> {
    close();
    missing.value = false;
    const mine = round;
    let row: JobRecord | undefined;
    try {
      row = await readJob(id);
    } catch (error) {
      readProblem.value = storageProblem(error);
      return false;
    }
    if (mine !== round) return false;
    if (!row) {
      missing.value = true;
      return false;
    }
    record.value = row;
    readOnly.value = false;
    held = heldJob(id, {
      // What the page before this one could not keep any more.
      granted: () => {
        const left = mine === round ? withUnsaved(record.value!) : null;
        if (!left) return forgetUnsaved(id);
        void save(left);
        onFree();
      },
      taken: () => (readOnly.value = true),
      free: async () => {
        const saved = await readJob(id);
        if (mine !== round) return;
        if (!saved) missing.value = true;
        else record.value = saved;
        readOnly.value = false;
        onFree();
      },
    });
    return true;
  }

  function close() {
    round++;
    // Another tab may write only when the last save of this one is done.
    const letGo = held;
    void saving.then(() => letGo?.release());
    held = null;
    record.value = null;
    readOnly.value = false;
    readProblem.value = null;
  }

  /** Saves one after the other, the newest last; a job that was removed elsewhere stays removed. */
  function save(next: JobRecord): Promise<void> {
    const changed = record.value?.changedAt !== next.changedAt;
    record.value = next;
    if (readOnly.value) return saving;
    unsaved.value++;
    if (changed) atRisk.value = !noteUnsaved(next);
    saving = saving.then(async () => {
      try {
        saveProblem.value = (await rewriteJob(next))
          ? null
          : 'This job was removed in another tab. Save the job as a file to keep it.';
        if (unsaved.value === 1) {
          forgetUnsaved(next.id);
          atRisk.value = false;
        }
      } catch (error) {
        saveProblem.value = storageProblem(error);
      } finally {
        unsaved.value--;
      }
    });
    return saving;
  }

  async function saveTally(t: JobRecord['tally']) {
    const job = record.value;
    if (!job || JSON.stringify(job.tally) === JSON.stringify(t)) return;
    await save({ ...job, tally: t });
  }

  async function rename(title: string) {
    const job = record.value;
    const plain = title.trim().slice(0, LONGEST_TITLE);
    if (job && plain !== '') await save({ ...job, title: plain, changedAt: Date.now() });
  }

  /** Turns to the plan for a target. One that the job has keeps the target as it was pinned. */
  async function chooseTarget(next: Target) {
    const job = record.value;
    if (!job) return;
    await save({ ...forTarget(job, next), changedAt: Date.now() });
  }

  /** The plan stays; what is pinned is the target as it is now. */
  async function repin(next: Target) {
    const job = record.value;
    const now = job?.plans.find((p) => p.targetId === next.id);
    if (!job || !now) return;
    const plan = { ...now, target: next, version: next.version };
    await save({ ...withPlan(job, plan), changedAt: Date.now() });
  }

  /** One more for a target of the open job, whichever target is looked at by now. */
  async function countHandover(targetId: string, number: number): Promise<void> {
    if (record.value) await save(withHandover(record.value, targetId, number));
  }

  /** The sound that is delivered beside the score; null takes it away. */
  async function setSound(sound: JobRecord['sound'] | null) {
    const job = record.value;
    if (!job) return;
    const { sound: before, ...rest } = job;
    await save({ ...rest, ...(sound ? { sound } : {}), changedAt: Date.now() });
    if (before && before.sha256 !== sound?.sha256) await forgetBytes(before.sha256);
  }

  /** The sounds that it is heard with; none for those of all jobs. No change of its plan. */
  async function setBank(bank: string | undefined) {
    const job = record.value;
    if (!job || readOnly.value) return;
    const { bank: before, ...rest } = job;
    if (before !== bank) await save({ ...rest, ...(bank === undefined ? {} : { bank }) });
  }

  /** What was tried and heard; kept with the job, and no change of its plan. */
  async function setTried(tried: NonNullable<JobRecord['tried']>) {
    const job = record.value;
    if (!job || readOnly.value) return;
    await save({ ...job, tried, changedAt: Date.now() });
  }

  return {
    record,
    sourcesNow,
    plan,
    target,
    readOnly,
    missing,
    saveProblem,
    setTried,
    readProblem,
    unsaved,
    atRisk,
    open,
    close,
    save,
    saveTally,
    rename,
    chooseTarget,
    repin,
    countHandover,
    setSound,
    setBank,
  };
}

export type JobDocument = ReturnType<typeof makeDocument>;
