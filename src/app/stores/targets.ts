import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { Evidence } from '../../core/target/evidence';
import { endingsOf } from '../../core/formats/own/kept';
import { builtInTargets, findTarget } from '../../core/target/index';
import { parseTargetText, type TargetProblem } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import { slugOf } from '../../core/target/words';
import type { ExampleResult } from '../../core/handover/target-pack';
import { engine } from './engine';
import { db, storageProblem, type TargetRow } from '../storage/db';
import { changeJobs } from '../storage/jobs';
import { whileAllFree } from '../storage/locks';
import { saveFile } from '../storage/save-file';
import type { JobRecord } from '../storage/job';

/** More than any target has, and any with its examples; what is larger is not read. */
const MOST_TEXT_MB = 4;
const MOST_PACK_MB = 64;

/** The targets on the shelf: those that ship with it, and the user's own. */
export const useTargets = defineStore('targets', () => {
  const rows = shallowRef<readonly TargetRow[]>([]);
  const problem = shallowRef<string | null>(null);
  let loading: Promise<void> | null = null;

  const all = computed<readonly Target[]>(() => [
    ...builtInTargets,
    ...rows.value.map((r) => r.target),
  ]);
  /** How the files of targets of one's own end: they are scores, where a format reads them. */
  const ofOwn = computed(() =>
    endingsOf(all.value.flatMap((t) => t.formats ?? []).flatMap((f) => f.files.map((o) => o.path))),
  );
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

  async function put(
    target: Target,
    learnt: readonly string[] = [],
    pack?: ArrayBuffer,
    shown: readonly Evidence[] = rowOf(target.id)?.evidence ?? [],
  ): Promise<boolean> {
    const examples = pack ?? rowOf(target.id)?.pack;
    const evidence = shown.filter((e) => learnt.includes(e.path));
    const row: TargetRow = {
      id: target.id,
      target,
      learnt,
      changedAt: Date.now(),
      ...(examples ? { pack: examples } : {}),
      ...(evidence.length > 0 ? { evidence } : {}),
    };
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

  /** Numbers that were learnt are right as they are. */
  async function confirm(id: string, paths: readonly string[]): Promise<void> {
    const row = rowOf(id);
    if (!row) return;
    const learnt = row.learnt.filter((p) => !paths.includes(p));
    await put(row.target, learnt);
  }

  /** Puts a target on the shelf, with its examples, where it is not there yet. */
  async function bring(target: Target, pack: () => Promise<ArrayBuffer>): Promise<void> {
    await load();
    if (!find(target.id)) await put(target, [], await pack());
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

  /** Takes a pack in: the target, and its examples with it. */
  async function takePack(
    bytes: ArrayBuffer,
  ): Promise<{ id: string } | { problems: readonly TargetProblem[] }> {
    const kept = bytes.slice(0);
    const found = await engine().ask('readPack', bytes).result;
    if (!found?.target)
      return { problems: (found?.problems ?? []).map((says) => ({ path: '', says })) };
    await load();
    const { target } = found;
    const id = find(target.id) ? freeId(target.id) : target.id;
    await put({ ...target, id }, [], kept);
    return { id };
  }

  /** A target as a file, alone or packed with its examples. */
  async function takeFile(file: File): ReturnType<typeof take> {
    const packed = /\.quilltarget$/i.test(file.name);
    const most = packed ? MOST_PACK_MB : MOST_TEXT_MB;
    if (file.size > most * 1024 * 1024)
      return { problems: [{ path: '', says: `It is too large for a target (over ${most} MB).` }] };
    return packed ? takePack(await file.arrayBuffer()) : take(await file.text());
  }

  /** What its examples say of a target; none where it has no examples. */
  async function examplesOf(target: Target): Promise<readonly ExampleResult[] | null> {
    const { pack } = rowOf(target.id) ?? {};
    if (!pack) return null;
    const plain = JSON.parse(JSON.stringify(target)) as Target;
    const bytes = await engine().plain.writePack(plain, pack.slice(0));
    const found = await engine().ask('readPack', bytes.buffer as ArrayBuffer).result;
    return found?.target ? found.results : null;
  }

  /** One that has formats, limits or examples of its own goes out as one pack, others as text. */
  async function save(target: Target): Promise<void> {
    const { pack } = rowOf(target.id) ?? {};
    if (pack || target.formats || target.limits) {
      const plain = JSON.parse(JSON.stringify(target)) as Target;
      const bytes = await engine().plain.writePack(plain, pack?.slice(0) ?? null);
      saveFile(bytes as Uint8Array<ArrayBuffer>, `${target.id}.quilltarget`, 'application/zip');
    } else saveText(target);
  }

  const saveText = (target: Target) =>
    saveFile(
      new TextEncoder().encode(`${JSON.stringify(target, null, 2)}\n`),
      `${target.id}.json`,
      'application/json',
    );

  const jobsOf = (id: string, jobs: readonly JobRecord[]) =>
    jobs.filter((j) => j.plans.some((p) => p.targetId === id));

  /** Jobs pin a target as it was; this gives them the one that is on the shelf now. */
  async function giveToJobs(target: Target, jobs: readonly JobRecord[]) {
    const of = jobsOf(target.id, jobs);
    const taken = await whileAllFree(
      of.map((j) => j.id),
      (free) =>
        changeJobs(free, (now) => ({
          ...now,
          plans: now.plans.map((p) =>
            p.targetId === target.id ? { ...p, target, version: target.version } : p,
          ),
          tally: null,
        })),
    );
    const open = of.filter((j) => taken.has(j.id)).map((j) => j.title);
    if (open.length > 0) problem.value = `Not updated (open in another tab): ${open.join(', ')}.`;
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
    confirm,
    bring,
    remove,
    copy,
    take,
    takePack,
    takeFile,
    ofOwn,
    examplesOf,
    save,
    jobsOf,
    giveToJobs,
  };
});
