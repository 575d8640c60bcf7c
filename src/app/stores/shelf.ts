import { liveQuery } from 'dexie';
import { defineStore } from 'pinia';
import { ref, shallowRef, toRaw } from 'vue';
import { keptFormats } from '../../core/formats/own/kept';
import { findTarget } from '../../core/target/index';
import { parseTarget } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import { UNSAID } from '../../core/target/unsaid';
import type { JobSource } from '../../core/plan/job-file';
import type { PlanStep } from '../../core/plan/plan';
import type { SourceUse } from '../../core/sources/use';
import { askToPersist, db, storageProblem } from '../storage/db';
import { jobFiles, readJobFiles } from '../storage/job-file';
import {
  EMPTY_STATE,
  JOB_SCHEMA_VERSION,
  newKey,
  newPlan,
  type JobRecord,
  type TargetPlan,
} from '../storage/job';
import { LARGEST_FILE_BYTES } from '../../core/smf/limits';
import { packFiles } from '../../core/outputs/pack';
import { stemOf } from '../../core/smf/name';
import { sayFailure } from '../kit/say-failure';
import { changeSet } from '../../core/sets/changes';
import { newSet } from '../../core/sets/set';
import { changeJob, eraseJob, readJob, writeJob } from '../storage/jobs';
import { whileFree } from '../storage/locks';
import { engine } from './engine';
import { useTargets } from './targets';

interface DemoWeek {
  sets?: {
    id: string;
    title: string;
    rows: ({ job: string; target: string } | { text: string })[];
  }[];
  /** Plans of jobs for the targets that a set has them for. */
  setPlans?: { job: string; target: string; steps: PlanStep[] }[];
  /** Targets of somebody's own that its jobs are for. */
  ownTargets?: { target: unknown; pack: string }[];
  jobs: {
    id: string;
    title: string;
    file: string;
    /** Further sources of the job, each under the key that its plan names. */
    further?: { key: string; file: string }[];
    /** The recording that plays beside it, and how long it is. */
    sound?: string;
    soundMs?: number;
    targets: { id: string; uses?: SourceUse[]; steps: PlanStep[] }[];
  }[];
}

interface JobExtras {
  readonly id?: string;
  readonly further?: readonly JobSource[];
  readonly sound?: JobRecord['sound'];
  readonly changedAt?: number;
  readonly targetOpen?: true;
}

/** Of more files that cannot be used the first are named, and the number of the others. */
const MOST_SAID = 3;

const hex = (buffer: ArrayBuffer) =>
  Array.from(new Uint8Array(buffer), (b) => b.toString(16).padStart(2, '0')).join('');

/** The jobs that there are, and the ways to get new ones. */
export const useShelf = defineStore('shelf', () => {
  const jobs = shallowRef<readonly JobRecord[]>([]);
  const loaded = ref(false);
  const problems = ref<string[]>([]);
  const busy = ref<{ says: string; done: number; total: number; cancel: () => void } | null>(null);

  function watchJobs() {
    liveQuery(() => db.jobs.orderBy('changedAt').reverse().toArray()).subscribe({
      next: (rows) => {
        jobs.value = rows;
        loaded.value = true;
      },
      error: (error) => {
        loaded.value = true;
        problems.value.push(storageProblem(error));
      },
    });
  }

  const titleOf = (fileName: string) =>
    stemOf(fileName)
      .replace(/(\.chart)?\.(json|csv|vtt)$/i, '')
      .replace(/[-_]+/g, ' ')
      .trim() || 'Untitled';

  /** Says why a file is too large to be read, and that it is; nothing of it is read yet. */
  function tooLarge(file: File): boolean {
    if (file.size <= LARGEST_FILE_BYTES) return false;
    problems.value.push(
      `${file.name}: The file has ${file.size.toLocaleString('en-GB')} bytes; sources may have up to ${LARGEST_FILE_BYTES.toLocaleString('en-GB')}. Split it, or export only the parts that are needed.`,
    );
    return true;
  }

  /** A dropped file as a source; null where it cannot be one, which is then said. */
  async function takeFile(file: File): Promise<string | null> {
    if (tooLarge(file)) return null;
    try {
      return await takeSource({ name: file.name, bytes: await file.arrayBuffer() });
    } catch (error) {
      problems.value.push(`${file.name}: ${storageProblem(error, 'file')}`);
      return null;
    }
  }

  /** Targets that sources were written for, by hash. */
  const meantFor = new Map<string, string>();

  /** Reads a file; where it can be used, its bytes are kept. Returns its hash. */
  async function takeSource(file: { name: string; bytes: ArrayBuffer }): Promise<string | null> {
    await useTargets().load();
    const own = useTargets().all.flatMap((t) => keptFormats(toRaw(t)) ?? []);
    const request = { name: file.name, bytes: file.bytes, ...(own.length > 0 ? { own } : {}) };
    const call = engine().open(request, (done, total) => {
      busy.value = { says: `Reading ${file.name}`, done, total, cancel: call.cancel };
    });
    const timer = setTimeout(() => {
      busy.value ??= { says: `Reading ${file.name}`, done: 0, total: 1, cancel: call.cancel };
    }, 300);
    let reply;
    try {
      reply = await call.result;
    } catch (error) {
      problems.value.push(`${file.name}: it was not read. ${sayFailure(error)}`);
      return null;
    } finally {
      clearTimeout(timer);
      busy.value = null;
    }
    if (!reply) return null;
    if (!reply.ok) {
      problems.value.push(`${file.name}: ${reply.problems.join(' ')}`);
      return null;
    }
    const { sha256 } = reply.source;
    if (reply.source.meantFor) meantFor.set(sha256, reply.source.meantFor);
    const { readBy } = reply;
    const row = { sha256, name: file.name, bytes: file.bytes };
    await db.sources.put({ ...row, ...(readBy ? { own: readBy } : {}) });
    return sha256;
  }

  async function addJob(
    title: string,
    fileName: string,
    sha256: string,
    plans: readonly TargetPlan[],
    { id = newKey(), further = [], sound, changedAt = Date.now(), targetOpen }: JobExtras = {},
  ): Promise<string> {
    await writeJob({
      id,
      schemaVersion: JOB_SCHEMA_VERSION,
      title,
      changedAt,
      sources: [{ key: 'main', kind: 'smf', role: 'score', sha256, name: fileName }, ...further],
      ...(sound ? { sound } : {}),
      ...(targetOpen ? { targetOpen } : {}),
      activeTarget: plans[0]!.targetId,
      plans,
      tally: null,
    });
    return id;
  }

  /** A job of a source that was taken, for a target; without one it is asked later. Its id. */
  const addJobFor = (
    { sha256, name }: { readonly sha256: string; readonly name: string },
    target: Target | null,
  ): Promise<string> =>
    addJob(
      titleOf(name),
      name,
      sha256,
      [newPlan(target ?? UNSAID)],
      target ? {} : { targetOpen: true },
    );

  const MIDI = /\.(mid|midi|smf|rmi|kar)$/i;

  /** What is said meanwhile of many files is one sentence. */
  async function gathered<T>(work: () => Promise<T>): Promise<T> {
    const from = problems.value.length;
    try {
      return await work();
    } finally {
      const said = problems.value.slice(from);
      if (said.length > MOST_SAID)
        problems.value.splice(
          from,
          said.length,
          `${said.length.toLocaleString('en-GB')} files could not be used. ${said.slice(0, MOST_SAID).join(' ')} And ${(said.length - MOST_SAID).toLocaleString('en-GB')} more.`,
        );
    }
  }

  /** Every dropped file becomes a job; what cannot be one is said. Returns the ids. */
  const dropFiles = (files: readonly File[]): Promise<string[]> => gathered(() => takeEach(files));

  /** Those of several files that can be sources; why the others cannot is said. */
  const readable = (files: readonly File[]): Promise<File[]> =>
    gathered(async () => {
      const out: File[] = [];
      for (const file of files) if (await takeFile(file)) out.push(file);
      return out;
    });

  /** Several files as one job: parts of one score, or files of their own. Its id, where one was read. */
  const dropTogether = (files: readonly File[], as: 'together' | 'file'): Promise<string | null> =>
    gathered(async () => {
      const read: JobSource[] = [];
      for (const file of files) {
        const sha256 = await takeFile(file);
        const key = read.length === 0 ? 'main' : newKey();
        if (sha256) read.push({ key, kind: 'smf', role: 'score', sha256, name: file.name });
      }
      const [first, ...further] = read;
      if (!first) return null;
      const uses = read.map(({ key }, i): SourceUse => ({
        source: key,
        as: i === 0 ? 'together' : as,
        ...(i === 0 ? { rules: true } : {}),
      }));
      const plan = newPlan(UNSAID, { ...EMPTY_STATE, ...(further.length > 0 ? { uses } : {}) });
      const title = titleOf(first.name);
      void askToPersist();
      return addJob(title, first.name, first.sha256, [plan], { further, targetOpen: true });
    });

  async function takeEach(files: readonly File[]): Promise<string[]> {
    const made: string[] = [];
    for (const file of files) {
      try {
        if (tooLarge(file)) continue;
        const bytes = await file.arrayBuffer();
        if (!MIDI.test(file.name) && /\.(zip|quilljob)$/i.test(file.name)) {
          const id = await importJob(bytes, file.name);
          if (id) made.push(id);
          continue;
        }
        const sha256 = await takeSource({ name: file.name, bytes });
        if (!sha256) continue;
        // A chart says which game it was written for.
        const known = useTargets().find(meantFor.get(sha256) ?? '');
        const target = known ?? UNSAID;
        const open = known ? {} : { targetOpen: true as const };
        made.push(await addJob(titleOf(file.name), file.name, sha256, [newPlan(target)], open));
        void askToPersist();
      } catch (error) {
        problems.value.push(`${file.name}: ${storageProblem(error, 'file')}`);
      }
    }
    return made;
  }

  async function importJob(bytes: ArrayBuffer, name: string): Promise<string | null> {
    const unpacked = await engine().plain.unpack(bytes);
    if ('problem' in unpacked) {
      problems.value.push(`${name}: ${unpacked.problem}`);
      return null;
    }
    const read = await readJobFiles(unpacked.files);
    if (!read.job) {
      problems.value.push(`${name}: ${read.problem}`);
      return null;
    }
    await db.sources.bulkPut([...read.sources]);
    await writeJob({ ...read.job, changedAt: Date.now() });
    return read.job.id;
  }

  /** On the page itself: whatever becomes of the engine, a job can be saved. */
  const exportJob = async (job: JobRecord): Promise<Uint8Array> => packFiles(await jobFiles(job));

  /** A job of the list as a file; null where it is gone. */
  async function exportById(id: string): Promise<Uint8Array | null> {
    const job = await readJob(id);
    return job ? exportJob(job) : null;
  }

  async function removeJob(id: string): Promise<void> {
    if (!(await whileFree(id, () => eraseJob(id))))
      problems.value.push('This job is open in another tab. Close it there, then remove it.');
  }

  /**
   * Puts in the jobs of the lantern week that are missing; what is there is left alone. One alone,
   * by its id, where a link asks for that; false where the week has none of the name.
   */
  async function seedDemo(only?: string): Promise<boolean> {
    try {
      const week = (await (await fetch('/demo/week.json')).json()) as DemoWeek;
      const jobs = only === undefined ? week.jobs : week.jobs.filter((j) => j.id === only);
      const own: Target[] = [];
      for (const { target: data, pack } of week.ownTargets ?? []) {
        const { target } = parseTarget(data);
        if (!target) continue;
        own.push(target);
        await useTargets().bring(target, async () =>
          (await fetch(`/demo/${encodeURIComponent(pack)}`)).arrayBuffer(),
        );
      }
      const stamp = Date.now();
      const there = new Set(await db.jobs.toCollection().primaryKeys());
      // All files on their way at once; the jobs are made in the order of the week, the first on top.
      await Promise.all(
        jobs.map(async (job, i) => {
          if (there.has(job.id)) return;
          const bytesOf = async (name: string) =>
            (await fetch(`/demo/${encodeURIComponent(name)}`)).arrayBuffer();
          const take = async (file: string) => {
            return takeSource({ name: file, bytes: await bytesOf(file) });
          };
          const recording = async (): Promise<JobRecord['sound']> => {
            if (!job.sound || job.soundMs === undefined) return undefined;
            const bytes = await bytesOf(job.sound);
            const sha256 = hex(await crypto.subtle.digest('SHA-256', bytes));
            await db.sources.put({ sha256, name: job.sound, bytes });
            return { sha256, name: job.sound, ms: job.soundMs };
          };
          const sounding = recording();
          const further = (job.further ?? []).map(async ({ key, file }): Promise<JobSource[]> => {
            const sha256 = await take(file);
            return sha256 ? [{ key, kind: 'smf', role: 'score', sha256, name: file }] : [];
          });
          const sha256 = await take(job.file);
          if (!sha256) return;
          const plans = job.targets.flatMap(({ id, steps, uses }) => {
            const target = findTarget(id) ?? own.find((t) => t.id === id);
            const state = { ...EMPTY_STATE, ...(uses ? { uses } : {}), steps };
            return target ? [newPlan(target, state)] : [];
          });
          await addJob(job.title, job.file, sha256, plans, {
            id: job.id,
            further: (await Promise.all(further)).flat(),
            sound: await sounding,
            changedAt: stamp - i,
          });
        }),
      );
      if (only === undefined) await seedSets(week);
      return jobs.length > 0;
    } catch (error) {
      const ofNetwork = error instanceof TypeError;
      problems.value.push(ofNetwork ? sayFailure(error) : storageProblem(error));
      return false;
    }
  }

  /** The sets of the week that are missing; their jobs get the plans that the sets have them for. */
  async function seedSets({ sets = [], setPlans = [] }: DemoWeek) {
    const there = new Set(await db.sets.toCollection().primaryKeys());
    for (const { job: id, target: targetId, steps } of setPlans) {
      const target = findTarget(targetId);
      if (!target || there.size > 0) continue;
      await changeJob(id, (job) => {
        if (job.plans.some((p) => p.targetId === targetId)) return job;
        const state = { ...EMPTY_STATE, steps, did: 'Mended for the set' };
        return { ...job, plans: [...job.plans, newPlan(target, state)] };
      });
    }
    for (const [n, { id, title, rows }] of sets.entries()) {
      if (there.has(id)) continue;
      const all = rows.map((row, i) =>
        'text' in row
          ? { is: 'text' as const, key: `row-${i}`, text: row.text }
          : { is: 'song' as const, key: `row-${i}`, ...row },
      );
      const set = changeSet(newSet(id, title), { is: 'add', rows: all });
      await db.sets.put({ id, set, past: [], future: [], changedAt: Date.now() - n });
    }
  }

  return {
    jobs,
    loaded,
    problems,
    busy,
    watchJobs,
    addJob,
    addJobFor,
    takeSource,
    takeFile,
    dropFiles,
    dropTogether,
    readable,
    gathered,
    importJob,
    exportJob,
    exportById,
    removeJob,
    seedDemo,
  };
});
