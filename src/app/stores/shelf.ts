import { liveQuery } from 'dexie';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { builtInTargets, findTarget } from '../../core/target/index';
import type { PlanStep } from '../../core/plan/model';
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
import { engine } from './engine';

interface DemoWeek {
  jobs: {
    id: string;
    title: string;
    file: string;
    targets: { id: string; steps: PlanStep[] }[];
  }[];
}

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
    fileName
      .replace(/\.[^.]*$/, '')
      .replace(/[-_]+/g, ' ')
      .trim() || 'Untitled';

  /** Reads a file; where it can be used, its bytes are kept. Returns its hash. */
  async function takeSource(file: { name: string; bytes: ArrayBuffer }): Promise<string | null> {
    const call = engine().open({ name: file.name, bytes: file.bytes }, (done, total) => {
      busy.value = { says: `Reading ${file.name}`, done, total, cancel: call.cancel };
    });
    const timer = setTimeout(() => {
      busy.value ??= { says: `Reading ${file.name}`, done: 0, total: 1, cancel: call.cancel };
    }, 300);
    const reply = await call.result;
    clearTimeout(timer);
    busy.value = null;
    if (!reply) return null;
    if (!reply.ok) {
      problems.value.push(`${file.name}: ${reply.problems.join(' ')}`);
      return null;
    }
    const { sha256 } = reply.source;
    await db.sources.put({ sha256, name: file.name, bytes: file.bytes });
    return sha256;
  }

  async function addJob(
    title: string,
    fileName: string,
    sha256: string,
    plans: readonly TargetPlan[],
    id = newKey(),
  ): Promise<string> {
    await db.jobs.put({
      id,
      schemaVersion: JOB_SCHEMA_VERSION,
      title,
      changedAt: Date.now(),
      sources: [{ key: 'main', kind: 'smf', role: 'score', sha256, name: fileName }],
      activeTarget: plans[0]!.targetId,
      plans,
      tally: null,
    });
    return id;
  }

  const MIDI = /\.(mid|midi|smf|rmi|kar)$/i;

  /** Every dropped file becomes a job; what cannot be one is said. Returns the ids. */
  async function dropFiles(files: readonly File[]): Promise<string[]> {
    const made: string[] = [];
    for (const file of files) {
      try {
        if (file.size > 64 * 1024 * 1024) {
          problems.value.push(
            `${file.name}: The file has ${file.size.toLocaleString('en-GB')} bytes; sources may have up to 67,108,864. Split it, or export only the parts that are needed.`,
          );
          continue;
        }
        const bytes = await file.arrayBuffer();
        if (!MIDI.test(file.name) && /\.(zip|quilljob)$/i.test(file.name)) {
          const id = await importJob(bytes, file.name);
          if (id) made.push(id);
          continue;
        }
        const sha256 = await takeSource({ name: file.name, bytes });
        if (!sha256) continue;
        const target = builtInTargets[0]!;
        made.push(await addJob(titleOf(file.name), file.name, sha256, [newPlan(target)]));
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
    await db.jobs.put({ ...read.job, changedAt: Date.now() });
    return read.job.id;
  }

  async function exportJob(job: JobRecord): Promise<Uint8Array> {
    return engine().plain.pack(await jobFiles(job));
  }

  async function removeJob(id: string): Promise<void> {
    await db.transaction('rw', db.jobs, db.handovers, db.sources, async () => {
      const job = await db.jobs.get(id);
      await db.jobs.delete(id);
      await db.handovers.where('jobId').equals(id).delete();
      const used = new Set(
        (await db.jobs.toArray()).flatMap((j) => j.sources.map((s) => s.sha256)),
      );
      for (const { sha256 } of job?.sources ?? [])
        if (!used.has(sha256)) await db.sources.delete(sha256);
    });
  }

  /** Puts in the jobs of the lantern week that are missing; what is there is left alone. */
  async function seedDemo(): Promise<void> {
    try {
      const week = (await (await fetch('/demo/week.json')).json()) as DemoWeek;
      const stamp = Date.now();
      for (const [i, job] of week.jobs.entries()) {
        if (await db.jobs.get(job.id)) continue;
        const reply = await fetch(`/demo/${encodeURIComponent(job.file)}`);
        const bytes = await reply.arrayBuffer();
        const sha256 = await takeSource({ name: job.file, bytes });
        if (!sha256) continue;
        const plans = job.targets.flatMap(({ id, steps }) => {
          const target = findTarget(id);
          return target ? [newPlan(target, { ...EMPTY_STATE, steps })] : [];
        });
        await addJob(job.title, job.file, sha256, plans, job.id);
        // In the order of the week, the first on top.
        await db.jobs.update(job.id, { changedAt: stamp - i });
      }
    } catch (error) {
      problems.value.push(storageProblem(error));
    }
  }

  return {
    jobs,
    loaded,
    problems,
    busy,
    watchJobs,
    addJob,
    takeSource,
    dropFiles,
    importJob,
    exportJob,
    removeJob,
    seedDemo,
  };
});
