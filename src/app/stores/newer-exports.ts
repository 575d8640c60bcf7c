import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { whichOf } from '../../core/sources/which';
import type { JobSource } from '../../core/plan/job-file';
import { recipeFor } from '../../core/plan/use-recipe';
import type { Recipe } from '../../core/plan/plan';
import type { SongFacts } from '../../core/sets/song-facts';
import { sourcesOf, withPlan, withSources, type JobRecord } from '../storage/job';
import { changeJob, readJob } from '../storage/jobs';
import { whileFree } from '../storage/locks';
import { sideEngine } from './engine';
import { useSet } from './set';
import { planFor, songRequest } from './set/song-request';
import { useShelf } from './shelf';
import { useTargets } from './targets';

/** What became of one file that was dropped on a set. */
export interface Newer {
  readonly file: string;
  /** The song that it is a newer export of; null where it is a new one, or none. */
  readonly song: string | null;
  readonly title: string;
  readonly by: 'name' | 'music' | null;
  readonly sure: number;
  readonly state: 'waits' | 'taken' | 'added' | 'left' | 'same' | 'unread' | 'busy';
  readonly before: SongFacts | null;
  readonly after: SongFacts | null;
}

/** Less likeness of music than that is asked about, and not taken. */
const SURE = 0.5;

/** Files that were dropped on a set: each finds its song, the others are new ones. */
export const useNewerExports = defineStore('newer-exports', () => {
  const open = useSet();
  const shelf = useShelf();
  const rows = shallowRef<readonly Newer[]>([]);
  const busy = ref<{ done: number; total: number } | null>(null);
  let files = new Map<string, { sha256: string; name: string }>();
  let round = 0;

  const set = (n: number, change: Partial<Newer>) =>
    (rows.value = rows.value.map((r, i) => (i === n ? { ...r, ...change } : r)));

  function cancel() {
    round++;
    busy.value = null;
  }
  function close() {
    cancel();
    rows.value = [];
  }

  /** Reads them, tells which song each is, and runs what is sure; the rest waits to be told. */
  async function take(dropped: readonly File[]) {
    const mine = ++round;
    files = new Map();
    const read: { key: string; sha256: string; name: string }[] = [];
    busy.value = { done: 0, total: dropped.length };
    for (const [n, file] of dropped.entries()) {
      const sha256 = await shelf.takeFile(file);
      if (mine !== round) return;
      busy.value = { done: n + 1, total: dropped.length };
      if (!sha256) continue;
      const key = `${n}`;
      read.push({ key, sha256, name: file.name });
      files.set(key, { sha256, name: file.name });
    }
    const songs = open.lines.flatMap((l) => {
      const [source] = l.job ? sourcesOf(l.job) : [];
      return source ? [{ key: l.row.key, source: { ...source, ...whichOf(source) } }] : [];
    });
    const found = await sideEngine().ask('matchSongs', { files: read, songs }).result;
    if (mine !== round || !found) return void (busy.value = null);
    rows.value = found.map(({ file, song, by, sure }): Newer => {
      const line = song === null ? null : open.lineOf.get(song);
      return {
        file: files.get(file)!.name,
        song,
        title: line?.title ?? '',
        by,
        sure,
        state: 'waits',
        before: line?.facts ?? null,
        after: null,
      };
    });
    for (const [n, r] of rows.value.entries()) {
      if (mine !== round) return;
      busy.value = { done: n, total: rows.value.length };
      if (r.song !== null && r.sure >= SURE) await useAs(n, r.song);
    }
    busy.value = null;
  }

  /** The file becomes the source of that song: its plan runs again. */
  async function useAs(n: number, key: string) {
    const line = open.lineOf.get(key);
    const file = files.get(`${n}`);
    if (!line?.job || !file) return;
    const job = await readJob(line.job.id);
    const [old] = job ? sourcesOf(job) : [];
    if (!job || !old) return;
    if (old.sha256 === file.sha256)
      return void set(n, { state: 'same', song: key, title: line.title });
    const newer: JobSource = { ...old, sha256: file.sha256, name: file.name };
    const sources = sourcesOf(job).map((s) => (s === old ? newer : s));
    const free = await whileFree(job.id, () =>
      changeJob(job.id, (now) => ({
        ...withSources(now, sources, `Newer export: ${file.name}`),
        tally: null,
        changedAt: Date.now(),
      })),
    );
    if (!free) return void set(n, { state: 'busy' });
    const after = await factsOf(job.id, key);
    set(n, { state: 'taken', song: key, title: line.title, before: line.facts, after });
  }

  async function factsOf(id: string, key: string): Promise<SongFacts | null> {
    const job = await readJob(id);
    const row = open.lineOf.get(key)?.row;
    const request = job && row && (await songRequest(job, row));
    if (!request) return null;
    return sideEngine()
      .ask('songFacts', request)
      .result.catch(() => null);
  }

  /** The file becomes a song of its own, by the recipe of the set. */
  async function addAsSong(n: number) {
    const file = files.get(`${n}`);
    if (!file || !open.set) return;
    const job = await newSong(file, open.set.recipe as Recipe | null);
    if (!job) return;
    await open.addJobs([job]);
    set(n, { state: 'added', title: job.title });
  }

  /** A job of a file for the target of the set: that of the recipe, else that of its first song. */
  async function newSong(
    file: { sha256: string; name: string },
    recipe: Recipe | null,
  ): Promise<JobRecord | null> {
    const first = open.lines.find((l) => l.job)?.job;
    const row = open.lines.find((l) => l.job)?.row;
    const id = recipe?.target.id ?? row?.target;
    const target =
      (id ? useTargets().find(id) : undefined) ??
      (first && row ? planFor(first, row)?.target : undefined);
    const made = await shelf.addJobFor(file, target ?? null);
    const job = await readJob(made);
    if (!job || !recipe || !target) return job ?? null;
    const plan = recipeFor(recipe, [{ key: 'main', name: file.name }]);
    const planned = withPlan(job, {
      ...job.plans[0]!,
      now: {
        steps: plan.steps,
        leftAsIs: recipe.leftAsIs,
        did: `Recipe ${recipe.name}`,
      },
    });
    await changeJob(job.id, () => planned);
    return planned;
  }

  const leave = (n: number) => set(n, { state: 'left' });

  return { rows, busy, take, useAs, addAsSong, newSong, leave, cancel, close };
});
