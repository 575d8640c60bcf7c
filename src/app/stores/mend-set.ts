import { group } from 'd3-array';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import type { MendReach } from '../../core/plan/mend';
import { count } from '../../core/target/words';
import { sayReach } from '../kit/say-reach';
import type { MendAllReply } from '../../worker/protocol';
import { newKey, pushState, withPlan } from '../storage/job';
import { changeJob, readJob } from '../storage/jobs';
import { whileFree } from '../storage/locks';
import { useSet, type SongLine } from './set';
import { planFor, songRequest } from './set/song-request';
import { sideBySide, type Side } from './side-by-side';

/** What mending came to in one song. */
export interface MendedSong {
  readonly key: string;
  readonly title: string;
  readonly says: string;
  readonly reply: MendAllReply;
}
const stopsOf = ({ reply }: MendedSong) => reply.remaining.stops;
/** Of the notes of its parts, what is still heard. */
const shareOf = ({ reply: { seated, kept, out } }: MendedSong) =>
  seated + out.notes === 0 ? 1 : kept / (seated + out.notes);

/** Every song of the set mended as one is: each job can undo what was done to it. */
export const useMendSet = defineStore('mend-set', () => {
  const open = useSet();
  const busy = ref<{ done: number; total: number } | null>(null);
  /** What became of the songs, and what of them was not done. */
  const said = ref<string | null>(null);
  const rows = shallowRef<readonly MendedSong[]>([]);
  const notDone = ref<readonly string[]>([]);
  let givenUp = false;
  let mending: { cancel(): void } | null = null;

  async function run(reach: MendReach, accept: boolean) {
    if (busy.value) return;
    givenUp = false;
    begin();
    const lines = open.lines.filter((l) => l.job && !l.row.aside);
    const problems = new Map<SongLine, string>();
    const found: MendedSong[] = [];
    let done = 0;
    busy.value = { done, total: lines.length };
    // Songs of one job follow each other: they are written into one row.
    const ofJobs = [...group(lines, (l) => l.job!.id).values()];
    const all = sideBySide(ofJobs, async (ofJob, side) => {
      for (const line of ofJob) {
        const came = givenUp ? null : await mendOne(line, { reach, accept }, side);
        if (typeof came === 'string') problems.set(line, `${line.title}: ${came}.`);
        else if (came) found.push(came);
        busy.value = { done: ++done, total: lines.length };
      }
    });
    mending = all;
    await all.done;
    busy.value = null;
    notDone.value = lines.flatMap((l) => problems.get(l) ?? []);
    rows.value = found.sort((x, y) => stopsOf(y) - stopsOf(x) || shareOf(x) - shareOf(y));
    const mended = found.filter((r) => r.reply.applied.length > 0).length;
    const left = found.reduce((n, r) => n + stopsOf(r), 0);
    said.value = [
      `${count(mended, 'song')} mended${givenUp ? ', and then it was given up' : ''}; `,
      left === 0
        ? 'no stop remains'
        : `${count(left, 'stop')} ${left === 1 ? 'remains' : 'remain'}`,
      '.',
    ].join('');
  }

  /** What it came to, or why it was left as it is; null where it was given up. */
  async function mendOne(
    { job: listed, row, title }: SongLine,
    how: { readonly reach: MendReach; readonly accept: boolean },
    { engine, answer }: Side,
  ): Promise<MendedSong | string | null> {
    const job = await readJob(listed!.id);
    const request = job && (await songRequest(job, row));
    const plan = job && planFor(job, row);
    if (!request || !plan) return 'its job is not for this target any more';
    let reply: MendAllReply | null = null;
    try {
      reply = await answer(engine.ask('mendAll', { ...request, known: [], ...how }));
    } catch (error) {
      return (error as Error).message;
    }
    if (!reply) return givenUp ? null : 'its file is not kept any more';
    const says = sayReach(reply, plan.target.notes?.none ?? false);
    const found = { key: row.key, title, says, reply };
    if (reply.applied.length === 0) return found;
    const { applied } = reply;
    const added = applied.flatMap((a) => a.steps.map((s) => ({ ...s, key: newKey(), on: true })));
    let meanwhile = false;
    const free = await whileFree(job.id, () =>
      changeJob(job.id, (now) => {
        const here = planFor(now, row);
        // What was changed meanwhile is another plan’s mends.
        meanwhile = !here || JSON.stringify(here.now.steps) !== JSON.stringify(plan.now.steps);
        if (!here || meanwhile) return now;
        const did = `Mended with the set (${applied.length})`;
        const steps = [...here.now.steps, ...added];
        const next = withPlan(now, pushState(here, { ...here.now, steps, did }));
        return { ...next, tally: null, changedAt: Date.now() };
      }),
    );
    if (!free) return 'it is open in another tab, and was left as it is';
    return meanwhile ? 'it was changed meanwhile, and was left as it is' : found;
  }
  function cancel() {
    givenUp = true;
    mending?.cancel();
  }
  /** As it opens: nothing was done yet. */
  function begin() {
    said.value = null;
    rows.value = [];
    notDone.value = [];
  }
  return { busy, said, rows, notDone, begin, run, cancel };
});
