import { liveQuery } from 'dexie';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { packFiles } from '../../core/outputs/pack';
import { formatPath, soundPath, sourcePath } from '../../core/plan/job-file';
import { changeSet } from '../../core/sets/changes';
import { MOST_ROWS, newSet, type SetRow as Row, type SongRow } from '../../core/sets/set';
import { readSetFiles, setFiles } from '../../core/sets/set-file';
import { parseKept } from '../../core/formats/own/kept';
import { bytesOf, db, storageProblem, type SetRow } from '../storage/db';
import { newKey, type JobRecord } from '../storage/job';
import { readJob, writeJob } from '../storage/jobs';
import { saveFile } from '../storage/save-file';
import { engine } from './engine';
import { fileStem } from './handover';
import { useShelf } from './shelf';

const hex = (buffer: ArrayBuffer) =>
  Array.from(new Uint8Array(buffer), (b) => b.toString(16).padStart(2, '0')).join('');

export const songRow = (job: Pick<JobRecord, 'id' | 'activeTarget'>): SongRow => ({
  is: 'song',
  key: newKey(),
  job: job.id,
  target: job.activeTarget,
});

/** The sets that there are, and the ways to get new ones. */
export const useSets = defineStore('sets', () => {
  const rows = shallowRef<readonly SetRow[]>([]);
  const loaded = ref(false);
  const shelf = useShelf();
  liveQuery(() => db.sets.toArray()).subscribe({
    next: (found) => {
      rows.value = found.toSorted((a, b) => b.changedAt - a.changedAt);
      loaded.value = true;
    },
    error: (error) => {
      loaded.value = true;
      shelf.problems.push(storageProblem(error));
    },
  });

  /** A new set of jobs, in their order; its id. */
  async function make(title: string, jobs: readonly JobRecord[], id = newKey()): Promise<string> {
    const fit = jobs.slice(0, MOST_ROWS);
    if (jobs.length > fit.length)
      shelf.problems.push(
        `A set has up to ${MOST_ROWS} rows: ${jobs.length - fit.length} jobs are not in it.`,
      );
    const set = changeSet(newSet(id, title), { is: 'add', rows: fit.map(songRow) });
    await put({ id, set, past: [], future: [], changedAt: Date.now() });
    return id;
  }

  async function put(row: SetRow) {
    try {
      await db.sets.put(row);
    } catch (error) {
      shelf.problems.push(storageProblem(error));
    }
  }

  /** The jobs of a set stay: they are on the shelf as before. */
  const remove = (id: string) =>
    db.transaction('rw', db.sets, db.setHandovers, db.cards, async () => {
      await db.sets.delete(id);
      await db.setHandovers.where('setId').equals(id).delete();
      await db.cards.where('setId').equals(id).delete();
    });

  /** A set as a file, with its jobs, or with their names alone. */
  async function save({ set }: SetRow, light = false) {
    const files = new Map<string, Uint8Array>();
    const jobs: JobRecord[] = [];
    const titles: Record<string, string> = {};
    const ids = new Set(set.rows.flatMap((r) => (r.is === 'song' ? [r.job] : [])));
    for (const id of ids) {
      const job = await readJob(id);
      if (!job) continue;
      titles[id] = job.title;
      jobs.push(job);
      if (light) continue;
      for (const { sha256 } of job.sources) {
        const row = await db.sources.get(sha256);
        if (!row) continue;
        files.set(sourcePath(sha256), new Uint8Array(await bytesOf(row)));
        if (row.own)
          files.set(formatPath(sha256), new TextEncoder().encode(JSON.stringify(row.own, null, 2)));
      }
      const sound = job.sound && (await db.sources.get(job.sound.sha256));
      if (sound) files.set(soundPath(sound.sha256), new Uint8Array(await bytesOf(sound)));
    }
    const pack = packFiles(setFiles({ set, jobs: jobs as never, files, titles }, light));
    saveFile(pack, `${fileStem(set.title)}.quillset`, 'application/zip');
  }

  /** A set that comes as a file: its jobs go on the shelf where they are not there yet. */
  async function bring(file: File): Promise<string | null> {
    const no = (says: string) => {
      shelf.problems.push(`${file.name}: ${says}`);
      return null;
    };
    const unpacked = await engine().plain.unpack(await file.arrayBuffer());
    if ('problem' in unpacked) return no(unpacked.problem);
    const read = readSetFiles(new Map(unpacked.files.map((f) => [f.path, f.bytes])));
    if (!read.pack) return no(read.problem);
    const { set, jobs, files } = read.pack;
    try {
      for (const [path, bytes] of files) {
        const sha256 = /^sources\/([0-9a-f]{64})\.(mid|wav)$/.exec(path)?.[1];
        if (!sha256) continue;
        if (hex(await crypto.subtle.digest('SHA-256', bytes.slice())) !== sha256)
          return no(`${path} is not what a job of it was made with.`);
        if (await db.sources.get(sha256)) continue;
        const format = files.get(formatPath(sha256));
        const own = format ? parseKept(new TextDecoder().decode(format)) : null;
        const named = jobs.flatMap((j) => [...j.sources, ...(j.sound ? [j.sound] : [])]);
        const name = named.find((s) => s.sha256 === sha256)?.name ?? path;
        await db.sources.put({
          sha256,
          name,
          bytes: bytes.slice().buffer,
          ...(own ? { own } : {}),
        });
      }
      const missing = new Set(set.rows.flatMap((r) => (r.is === 'song' ? [r.job] : [])));
      for (const job of jobs) {
        missing.delete(job.id);
        // A job of that name that is there already may have gone on: it is left as it is.
        if ((await db.jobs.where('id').equals(job.id).count()) === 0)
          await writeJob(job as unknown as JobRecord);
      }
      for (const id of [...missing]) if (await db.jobs.get(id)) missing.delete(id);
      const there = await db.sets.get(set.id);
      const id = there ? newKey() : set.id;
      await put({ id, set: { ...set, id }, past: [], future: [], changedAt: Date.now() });
      if (missing.size > 0)
        no(
          `${missing.size} of its jobs are not on this desk and not in the file; their lines say so.`,
        );
      return id;
    } catch (error) {
      return no(storageProblem(error, 'file'));
    }
  }

  return { rows, loaded, make, put, remove, save, bring };
});

export const divider = (text: string): Row => ({ is: 'text', key: newKey(), text });
