import { refOf, whichKey } from '../../core/sources/which';
import { defineStore } from 'pinia';
import { computed, ref, shallowReactive, shallowRef } from 'vue';
import type { Fit } from '../../core/plan/fit';
import type { Plan } from '../../core/plan/plan';
import type { Target } from '../../core/target/schema';
import type { SourceRef } from '../../worker/run-protocol';
import { stemOf } from '../../core/smf/name';
import { whileFree } from '../storage/locks';
import {
  activePlan,
  EMPTY_STATE,
  newPlan,
  sourcesOf,
  withTarget,
  type JobRecord,
  type PlanState,
} from '../storage/job';
import { changeJob, readJob } from '../storage/jobs';
import { useShelf } from './shelf';
import { sideBySide } from './side-by-side';
import { useTargets } from './targets';

/** A song to be tried: a job, or a file that was dropped here and is no job yet. */
export interface Song {
  readonly key: string;
  readonly title: string;
  readonly sources: readonly SourceRef[];
  readonly jobId: string | null;
}

const plans = new WeakMap<PlanState, Plan>();
/** What is tried of a state: the same object for the same state. */
function planOf(state: PlanState): Plan {
  const { uses, steps } = state;
  const known = plans.get(state) ?? { ...(uses ? { uses } : {}), steps };
  plans.set(state, known);
  return known;
}

const numbers = new WeakMap<object, number>();
const said = new Map<string, number>();
/** A number for what an object says, the same for the same words; read once for each object. */
function numberOf(data: object): number {
  const known = numbers.get(data);
  if (known !== undefined) return known;
  const text = JSON.stringify(data);
  const number = said.get(text) ?? said.size;
  said.set(text, number);
  numbers.set(data, number);
  return number;
}

/** Songs tried on targets: what stops each, and what it would take. */
export const useFit = defineStore('fit', () => {
  const shelf = useShelf();
  const targets = useTargets();
  const dropped = shallowRef<readonly Song[]>([]);
  const songKeys = ref<string[]>([]);
  const targetIds = ref<string[]>([]);
  /** One by one: what becomes known of a cell is drawn in that cell alone. */
  const cells = shallowReactive(new Map<string, Fit | 'unread'>());
  const running = ref(false);
  /** Whether anything was tried: then what has changed since is tried anew by itself. */
  const tried = computed(() => cells.size > 0);
  const done = ref(0);
  const total = ref(0);

  const ofJob = (job: JobRecord): Song => {
    const sources = sourcesOf(job).map(refOf);
    return { key: job.id, title: job.title, sources, jobId: job.id };
  };
  const songs = computed<readonly Song[]>(() => [...dropped.value, ...shelf.jobs.map(ofJob)]);
  const rows = computed(() => songs.value.filter((s) => songKeys.value.includes(s.key)));
  const columns = computed(() =>
    targetIds.value.flatMap((id) => {
      const target = targets.find(id);
      return target ? [target] : [];
    }),
  );
  /** A cell holds for these bytes, this plan and this target; what was mended since is tried anew. */
  const keyOf = (song: Song, target: Target) =>
    [
      song.key,
      ...song.sources.map((s) => `${s.key} ${s.sha256} ${whichKey(s)}`),
      numberOf(planOf(stateOf(song, target))),
      numberOf(target),
    ].join('\n');
  const cell = (song: Song, target: Target) => cells.get(keyOf(song, target)) ?? null;

  /** The plan that a job has for a target is what counts; a song without one is tried as it is. */
  const stateOf = (song: Song, target: Target): PlanState => {
    const job = shelf.jobs.find((j) => j.id === song.jobId);
    return job ? activePlan(withTarget(job, target)).now : EMPTY_STATE;
  };

  let trying: { cancel(): void } | null = null;
  let round = 0;

  async function run() {
    const mine = ++round;
    trying?.cancel();
    running.value = true;
    const asked = rows.value.flatMap((song) =>
      columns.value.map((target) => ({ song, target, key: keyOf(song, target) })),
    );
    // What is known already stays; what is no longer asked for is let go.
    const keys = new Set(asked.map((a) => a.key));
    for (const key of [...cells.keys()]) if (!keys.has(key)) cells.delete(key);
    const open = asked.filter(({ key }) => !cells.has(key));
    total.value = asked.length;
    done.value = asked.length - open.length;
    const all = sideBySide(open, async ({ song, target, key }, { engine, answer }) => {
      const plan = planOf(stateOf(song, target));
      let fit: Fit | null = null;
      try {
        fit = await answer(engine.ask('fit', { sources: song.sources, target, plan }));
      } catch (error) {
        // One cell that fails is one cell; the others are still tried.
        shelf.problems.push(`${song.title} on ${target.name}: ${(error as Error).message}`);
      }
      if (mine !== round) return;
      cells.set(key, fit ?? 'unread');
      done.value++;
    });
    trying = all;
    await all.done;
    if (mine === round) running.value = false;
  }

  function cancel() {
    round++;
    trying?.cancel();
    running.value = false;
  }

  /** Files become songs of this table; a job is made of one when its cell is opened. */
  async function take(files: readonly File[]) {
    const made: Song[] = [];
    for (const file of files) {
      const sha256 = await shelf.takeFile(file);
      if (!sha256) continue;
      made.push({
        key: `file ${sha256} ${file.name}`,
        title: stemOf(file.name),
        sources: [{ key: 'main', sha256, name: file.name }],
        jobId: null,
      });
    }
    const keys = new Set(made.map((s) => s.key));
    dropped.value = [...made, ...dropped.value.filter((s) => !keys.has(s.key))];
    // What was dropped is what is meant: the jobs on the desk step back.
    songKeys.value = [...new Set([...made, ...dropped.value].map((s) => s.key))];
    if (targetIds.value.length === 0) targetIds.value = targets.all.slice(0, 4).map((t) => t.id);
    await run();
  }

  /** Opens the proof of a cell; the job keeps its plan for each target. */
  async function openCell(song: Song, target: Target): Promise<string> {
    const job = song.jobId === null ? null : await readJob(song.jobId);
    if (!job) {
      const [first] = song.sources;
      const id = await shelf.addJob(song.title, first!.name, first!.sha256, [newPlan(target)]);
      dropped.value = dropped.value.filter((s) => s.key !== song.key);
      songKeys.value = [...songKeys.value.filter((k) => k !== song.key), id];
      return id;
    }
    const free = await whileFree(job.id, () =>
      changeJob(job.id, (now) => ({
        ...withTarget(now, target),
        tally: null,
      })),
    );
    if (!free)
      shelf.problems.push(`${job.title} is open in another tab: its target is not changed.`);
    return job.id;
  }

  return {
    songs,
    rows,
    columns,
    songKeys,
    targetIds,
    tried,
    running,
    done,
    total,
    cell,
    run,
    cancel,
    take,
    openCell,
  };
});
