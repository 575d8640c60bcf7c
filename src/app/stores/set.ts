import { liveQuery, type Subscription } from 'dexie';
import { defineStore } from 'pinia';
import { computed, ref, shallowReactive, shallowRef } from 'vue';
import { changeSet, type SetChange } from '../../core/sets/changes';
import { wantedSongs, type WantedSong } from '../../core/sets/layout';
import { proofSet } from '../../core/sets/rules';
import { songsOf, type SongRow } from '../../core/sets/set';
import { isUnsaid } from '../../core/target/unsaid';
import type { Target } from '../../core/target/schema';
import type { SongFacts } from '../../core/sets/song-facts';
import { db, type SetHandoverRow, type SetRow } from '../storage/db';
import { activePlan, forTarget, type JobRecord } from '../storage/job';
import { changeJob, changeJobs } from '../storage/jobs';
import { whileAllFree, whileFree } from '../storage/locks';
import { useJob } from './job';
import { songRow, useSets } from './sets';
import { planFor, songRequest, stateOf } from './set/song-request';
import { useShelf } from './shelf';
import { sideBySide } from './side-by-side';

/** How many states of a set can be gone back to. */
const MOST_PAST = 100;

/** A line of the running order. */
export interface SongLine {
  readonly row: SongRow;
  /** From 1; null where it is put aside. */
  readonly number: number | null;
  /** Null where the job was removed. */
  readonly job: JobRecord | null;
  readonly title: string;
  readonly facts: SongFacts | null;
  /** What keeps it from being looked at or handed over. */
  readonly problem: string | null;
  /** Of the last handover; null where it never went out. */
  readonly handedOver: number | null;
  readonly changed: boolean;
}

/** What a song went out as, in one word: it changes when any byte of it does. */
export const bytesWord = (facts: SongFacts): string =>
  facts.files.map((f) => `${f.path} ${f.sha256}`).join('\n');

/** The set that is open: its order, what is known of its songs, what is wrong with them together. */
export const useSet = defineStore('set', () => {
  const sets = useSets();
  const shelf = useShelf();
  const row = shallowRef<SetRow | null>(null);
  const missing = ref(false);
  const handovers = shallowRef<readonly SetHandoverRow[]>([]);
  /** What is known of songs, by state; a song that could not be made has its reason. */
  const known = shallowReactive(new Map<string, SongFacts | string>());
  const looking = ref<{ done: number; total: number } | null>(null);
  let watching: Subscription | null = null;

  function open(id: string) {
    if (row.value?.id === id) return;
    close();
    missing.value = false;
    watching = liveQuery(async () => ({
      set: await db.sets.get(id),
      handovers: await db.setHandovers.where('setId').equals(id).toArray(),
    })).subscribe({
      next: (found) => {
        row.value = found.set ?? null;
        missing.value = !found.set;
        handovers.value = found.handovers.sort((a, b) => b.number - a.number);
      },
      error: (error: unknown) => shelf.problems.push((error as Error).message),
    });
  }
  function close() {
    watching?.unsubscribe();
    watching = null;
    stop();
    row.value = null;
    handovers.value = [];
  }

  const set = computed(() => row.value?.set ?? null);
  const jobs = computed(() => new Map(shelf.jobs.map((j) => [j.id, j])));
  const lines = computed<readonly SongLine[]>(() => {
    let number = 0;
    const last = handovers.value[0];
    return (set.value?.rows ?? []).flatMap((r): SongLine[] => {
      if (r.is !== 'song') return [];
      const job = jobs.value.get(r.job) ?? null;
      const found = job ? (known.get(stateOf(job, r)) ?? null) : null;
      const facts = typeof found === 'string' ? null : found;
      const problem = !job
        ? 'Its job was removed'
        : !planFor(job, r)
          ? 'Its job is not for this target any more'
          : typeof found === 'string'
            ? found
            : null;
      const before = last?.songs[r.key];
      return [
        {
          row: r,
          number: r.aside ? null : ++number,
          job,
          title: job?.title ?? 'A job that is gone',
          facts,
          problem,
          handedOver: before === undefined ? null : last!.number,
          changed: before !== undefined && facts !== null && before !== bytesWord(facts),
        },
      ];
    });
  });
  const lineOf = computed(() => new Map(lines.value.map((l) => [l.row.key, l])));

  /** Songs that are known, as the rules and the handover take them. */
  const ready = computed(() =>
    lines.value.flatMap((l) => {
      const target = l.job && planFor(l.job, l.row)?.target;
      return l.facts && target && !l.row.aside
        ? [{ row: l.row, title: l.title, facts: l.facts, target }]
        : [];
    }),
  );
  const findings = computed(() =>
    set.value ? proofSet({ set: set.value, songs: ready.value }) : [],
  );
  const wanted = computed<WantedSong[]>(() =>
    set.value ? wantedSongs(set.value, new Map(ready.value.map((s) => [s.row.key, s]))) : [],
  );
  const totals = computed(() => ({
    songs: set.value ? songsOf(set.value).length : 0,
    ms: ready.value.reduce((n, s) => n + s.facts.lengthMs, 0),
    bytes: ready.value.flatMap((s) => s.facts.files).reduce((n, f) => n + f.bytes, 0),
    known: ready.value.length,
  }));

  let round = 0;
  let lookingAt: { cancel(): void } | null = null;
  /** Looks at songs of which nothing is known in the state that they are in. */
  async function look() {
    const mine = ++round;
    lookingAt?.cancel();
    const open = lines.value.filter(
      (l) => l.job && !l.row.aside && planFor(l.job, l.row) && !known.has(stateOf(l.job, l.row)),
    );
    if (open.length === 0) return void (looking.value = null);
    looking.value = { done: 0, total: open.length };
    let done = 0;
    const all = sideBySide(open, async ({ job, row: song }, { engine, answer }) => {
      const request = await songRequest(job!, song);
      if (mine !== round) return;
      if (request) {
        const found = await answer(engine.ask('songFacts', request)).catch(
          (error: unknown) => (error as Error).message,
        );
        if (mine !== round) return;
        known.set(stateOf(job!, song), found ?? 'Its file is not kept any more');
      }
      looking.value = { done: ++done, total: open.length };
    });
    lookingAt = all;
    await all.done;
    if (mine === round) looking.value = null;
  }
  function stop() {
    round++;
    lookingAt?.cancel();
    looking.value = null;
  }

  /** One thing that is done to the set; it can be undone. */
  async function change(by: SetChange, did: string) {
    const now = row.value;
    if (!now) return;
    const next: SetRow = {
      ...now,
      set: changeSet(now.set, by),
      past: [...now.past, { set: now.set, did }].slice(-MOST_PAST),
      future: [],
      changedAt: Date.now(),
    };
    // At once on the screen: what follows is done to this state.
    row.value = next;
    await sets.put(next);
  }
  async function undo() {
    const now = row.value;
    const before = now?.past.at(-1);
    if (!now || !before) return;
    await step(now, before.set, now.past.slice(0, -1), [
      { set: now.set, did: before.did },
      ...now.future,
    ]);
  }
  async function redo() {
    const now = row.value;
    const [next, ...future] = now?.future ?? [];
    if (!now || !next) return;
    await step(now, next.set, [...now.past, { set: now.set, did: next.did }], future);
  }
  async function step(
    now: SetRow,
    to: SetRow['set'],
    past: SetRow['past'],
    future: SetRow['future'],
  ) {
    row.value = { ...now, set: to, past, future, changedAt: Date.now() };
    await sets.put(row.value);
  }

  const addJobs = (added: readonly JobRecord[], before?: string) =>
    change(
      { is: 'add', rows: added.map(songRow), ...(before === undefined ? {} : { before }) },
      added.length === 1 ? `Add ${added[0]!.title}` : `Add ${added.length} songs`,
    );

  /** The song behind another that has a stop open; goes round. */
  function nextWithStop(after: string | null): SongLine | null {
    const all = lines.value.filter((l) => !l.row.aside);
    const at = all.findIndex((l) => l.row.key === after);
    const turned = [...all.slice(at + 1), ...all.slice(0, at + 1)];
    return turned.find((l) => (l.facts?.tally.stops ?? 0) > 0 || l.problem !== null) ?? null;
  }

  /** Songs of which nobody said what they are for. */
  const unsaid = computed(() =>
    lines.value.filter((l) => {
      const target = l.job && planFor(l.job, l.row)?.target;
      return target ? isUnsaid(target) : false;
    }),
  );
  /** Says it of all of them: their jobs keep what was done to the music. */
  async function sayTarget(target: Target) {
    const songs = unsaid.value;
    // The same job may stand in a set twice.
    const ids = [...new Set(songs.map((l) => l.job!.id))];
    const taken = await whileAllFree(ids, (free) =>
      changeJobs(free, (j) => ({ ...forTarget(j, target), tally: null, changedAt: Date.now() })),
    );
    const said = songs.filter((l) => !taken.has(l.job!.id));
    for (const id of taken) {
      const { title } = songs.find((l) => l.job!.id === id)!;
      shelf.problems.push(`${title} is open in another tab: choose its target there.`);
    }
    const keys = said.map((l) => l.row.key);
    await change({ is: 'target', keys, target: target.id }, `For ${target.name}`);
  }

  /** A song is looked at for the target that the set has it for. */
  async function turnTo({ job, row: song }: SongLine): Promise<void> {
    if (!job || job.activeTarget === song.target || !planFor(job, song)) return;
    const now = useJob();
    const target = planFor(job, song)!.target;
    if (now.record?.id === job.id) await now.chooseTarget(target);
    else
      await whileFree(job.id, () =>
        changeJob(job.id, (j) => ({ ...j, activeTarget: song.target, tally: null })),
      );
  }

  const targetNames = computed(() => [
    ...new Set(
      lines.value.flatMap((l) => (l.job ? [planFor(l.job, l.row)?.target.name ?? ''] : [])),
    ),
  ]);

  return {
    row,
    set,
    missing,
    handovers,
    lines,
    lineOf,
    ready,
    findings,
    wanted,
    totals,
    looking,
    targetNames,
    open,
    close,
    look,
    stop,
    change,
    undo,
    redo,
    addJobs,
    nextWithStop,
    turnTo,
    unsaid,
    sayTarget,
  };
});

export const targetOf = (job: JobRecord, row: SongRow): string =>
  planFor(job, row)?.target.name ?? activePlan(job).target.name;
