import { useSessionStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { sourcesOf, withSources, type JobRecord } from '../storage/job';
import { changeJob } from '../storage/jobs';
import { whileFree } from '../storage/locks';
import { useJob } from './job';
import { useNewerExports } from './newer-exports';
import { useSet } from './set';
import { useShelf } from './shelf';
import { bare, jobsOf, titlesOf, type WatchedJob } from './watched-jobs';

/** A file of the watched folder, as the server tells of it. */
interface Saved {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly first: boolean;
}

/** What became of a file that was saved. */
export interface Came {
  readonly name: string;
  readonly sha256: string;
  /** `new`: no job has a source of that name; it waits to be told what it is. */
  readonly state: 'taken' | 'added' | 'new' | 'left' | 'busy' | 'unread';
  readonly title: string;
  /** From the save to the findings on the screen. */
  readonly ms: number | null;
}

/** The folder that the server watches: what is saved there comes in as a newer export of its source. */
export const useWatching = defineStore('watching', () => {
  const shelf = useShelf();
  const job = useJob();
  const set = useSet();
  const token = useSessionStorage('watch', '');
  const folder = ref<string | null>(null);
  const lost = ref(false);
  const came = shallowRef<readonly Came[]>([]);
  const passed = shallowRef<readonly string[]>([]);
  let events: EventSource | null = null;
  let last = Promise.resolve();

  const put = (c: Came) =>
    (came.value = [c, ...came.value.filter((o) => o.name !== c.name)].slice(0, 50));

  /** @param asked the token of the address, where the page was opened with one */
  function begin(asked: string | null) {
    if (asked) token.value = asked;
    if (token.value === '' || events) return;
    events = new EventSource(`/watch/${encodeURIComponent(token.value)}/events`);
    const on = <T>(event: string, does: (data: T) => void) =>
      events!.addEventListener(event, (e) =>
        does(JSON.parse((e as MessageEvent<string>).data) as T),
      );
    on<{ name: string }>('folder', ({ name }) => {
      folder.value = name;
      lost.value = false;
    });
    on<Saved>('saved', (file) => void (last = last.then(() => take(file))));
    on<{ name: string; says: string }>('passed', ({ name, says }) => {
      passed.value = [...new Set([...passed.value, `${name} ${says}`])].slice(-20);
    });
    events.onerror = () => {
      // The browser asks again by itself; one that is refused is given up.
      if (events?.readyState === EventSource.CLOSED) {
        token.value = '';
        folder.value = null;
        events = null;
      } else lost.value = true;
    };
  }

  const jobsFor = (name: string) => jobsOf(name, job.record, shelf.jobs);

  async function take(file: Saved) {
    const began = performance.now();
    ids.set(file.name, file.id);
    const [found, ...others] = jobsFor(file.name);
    const known = found && sourcesOf(found.job).some((s) => s.sha256 === file.sha256);
    if (known) return;
    // What lay there before is no save: it is taken when it is asked for.
    if (!found || file.first)
      return void put({ ...plain(file), state: 'new', title: found?.job.title ?? '', ms: null });
    const name = bare(file.name);
    const sha256 = await fetched(file);
    if (!sha256) return void put({ ...plain(file), state: 'unread', title: '', ms: null });
    const state = await useFor(found.job, found.key, sha256, name);
    const ms = Math.round(performance.now() - began);
    put({ ...plain(file), state, title: found.job.title, ms });
    const also = await useForAll(others, sha256, name);
    if (also.length > 0) put({ ...plain(file), state, title: titlesOf([found, ...also]), ms });
  }
  /** Those of the jobs that took it: one that is open in another tab does not. */
  async function useForAll(jobs: readonly WatchedJob[], sha256: string, name: string) {
    const took: WatchedJob[] = [];
    for (const other of jobs)
      if ((await useFor(other.job, other.key, sha256, name)) === 'taken') took.push(other);
    return took;
  }
  const plain = ({ name, sha256 }: Saved) => ({ name, sha256 });
  const ids = new Map<string, string>();

  /** The bytes of a file, kept as a source; its hash. */
  async function fetched(file: Pick<Saved, 'id' | 'name'>): Promise<string | null> {
    try {
      const reply = await fetch(`/watch/${encodeURIComponent(token.value)}/file/${file.id}`);
      if (!reply.ok) return null;
      return await shelf.takeSource({ name: bare(file.name), bytes: await reply.arrayBuffer() });
    } catch {
      return null;
    }
  }

  async function useFor(
    of: JobRecord,
    key: string,
    sha256: string,
    name: string,
  ): Promise<'taken' | 'busy'> {
    if (job.record?.id === of.id) {
      if (job.readOnly) return 'busy';
      await job.replaceSource(sha256, name, undefined, key);
      return 'taken';
    }
    const swap = (j: JobRecord) =>
      sourcesOf(j).map((s) => (s.key === key ? { ...s, sha256, name } : s));
    const free = await whileFree(of.id, () =>
      changeJob(of.id, (j) => ({
        ...withSources(j, swap(j), `Newer export: ${name}`),
        tally: null,
        changedAt: Date.now(),
      })),
    );
    return free ? 'taken' : 'busy';
  }

  /** A file that waits becomes the newer export of its job, a song of the open set, or a job. */
  async function accept(c: Came) {
    const [found, ...others] = jobsFor(c.name);
    const sha256 = await fetched({ id: ids.get(c.name) ?? '', name: c.name });
    if (!sha256) return void put({ ...c, state: 'unread' });
    if (found) {
      const name = bare(c.name);
      const state = await useFor(found.job, found.key, sha256, name);
      const also = await useForAll(others, sha256, name);
      return void put({ ...c, state, title: titlesOf([found, ...also]) });
    }
    const made = await useNewerExports().newSong(
      { sha256, name: bare(c.name) },
      (set.set?.recipe ?? null) as never,
    );
    if (made && set.set) await set.addJobs([made]);
    put({ ...c, state: made ? 'added' : 'unread', title: made?.title ?? '' });
  }
  const leave = (c: Came) => put({ ...c, state: 'left' });

  return { folder, lost, came, passed, begin, accept, leave };
});
