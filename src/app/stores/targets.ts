import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import { builtInTargets, findTarget } from '../../core/target/index';
import { parseTargetText, type TargetProblem } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import { slugOf } from '../../core/target/words';
import { db, storageProblem, type TargetRow } from '../storage/db';
import { changeJob } from '../storage/jobs';
import { whileFree } from '../storage/locks';
import { saveFile } from '../storage/save-file';
import type { JobRecord } from '../storage/job';

/** The targets on the shelf: those that ship with it, and the user's own. */
export const useTargets = defineStore('targets', () => {
  const rows = shallowRef<readonly TargetRow[]>([]);
  const problem = shallowRef<string | null>(null);
  let loading: Promise<void> | null = null;

  const all = computed<readonly Target[]>(() => [
    ...builtInTargets,
    ...rows.value.map((r) => r.target),
  ]);
  const find = (id: string) => all.value.find((t) => t.id === id);
  const isBuiltIn = (id: string) => findTarget(id) !== undefined;
  const rowOf = (id: string) => rows.value.find((r) => r.id === id) ?? null;

  const load = () =>
    (loading ??= (async () => {
      try {
        rows.value = await db.targets.toArray();
      } catch (error) {
        problem.value = storageProblem(error);
      }
    })());

  /** An id that no target has yet. */
  function freeId(wanted: string): string {
    const base = slugOf(wanted).slice(0, 54);
    let id = base;
    for (let n = 2; find(id); n++) id = `${base}-${n}`;
    return id;
  }

  async function put(target: Target, learnt: readonly string[] = []): Promise<boolean> {
    const row = { id: target.id, target, learnt, changedAt: Date.now() };
    try {
      await db.targets.put(row);
      rows.value = [...rows.value.filter((r) => r.id !== row.id), row];
      problem.value = null;
      return true;
    } catch (error) {
      problem.value = storageProblem(error);
      return false;
    }
  }

  /** Puts targets on the shelf that are not there yet. */
  async function bring(targets: readonly Target[]): Promise<void> {
    await load();
    for (const target of targets) if (!find(target.id)) await put(target);
  }

  async function remove(id: string) {
    await db.targets.delete(id);
    rows.value = rows.value.filter((r) => r.id !== id);
  }

  async function copy(target: Target): Promise<string | null> {
    const name = `${target.name}, copy`;
    const id = freeId(name);
    return (await put({ ...target, id, name, version: '1.0.0' })) ? id : null;
  }

  /** Takes a target file in; one with an id that is there already gets a new one. */
  async function take(
    text: string,
  ): Promise<{ id: string } | { problems: readonly TargetProblem[] }> {
    const result = parseTargetText(text);
    if (!result.target) return { problems: result.problems };
    await load();
    const id = find(result.target.id) ? freeId(result.target.id) : result.target.id;
    await put({ ...result.target, id });
    return { id };
  }

  const save = (target: Target) =>
    saveFile(
      new TextEncoder().encode(`${JSON.stringify(target, null, 2)}\n`),
      `${target.id}.json`,
      'application/json',
    );

  const jobsOf = (id: string, jobs: readonly JobRecord[]) =>
    jobs.filter((j) => j.plans.some((p) => p.targetId === id));

  /** Jobs pin a target as it was; this gives them the one that is on the shelf now. */
  async function giveToJobs(target: Target, jobs: readonly JobRecord[]) {
    const open: string[] = [];
    for (const job of jobsOf(target.id, jobs)) {
      const free = await whileFree(job.id, () =>
        changeJob(job.id, (now) => ({
          ...now,
          plans: now.plans.map((p) =>
            p.targetId === target.id ? { ...p, target, version: target.version } : p,
          ),
          tally: null,
        })),
      );
      if (!free) open.push(job.title);
    }
    if (open.length > 0)
      problem.value = `Open in another tab, and not given it: ${open.join(', ')}.`;
  }

  return {
    rows,
    all,
    problem,
    load,
    find,
    isBuiltIn,
    rowOf,
    freeId,
    put,
    bring,
    remove,
    copy,
    take,
    save,
    jobsOf,
    giveToJobs,
  };
});
