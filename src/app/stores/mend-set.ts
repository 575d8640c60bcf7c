import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { MendReach } from '../../core/plan/mend';
import { count } from '../../core/target/words';
import type { RunningCall } from '../../worker/client';
import type { MendAllReply } from '../../worker/protocol';
import { newKey, pushState, withPlan } from '../storage/job';
import { changeJob, readJob } from '../storage/jobs';
import { whileFree } from '../storage/locks';
import { sideEngine } from './engine';
import { useSet } from './set';
import { planFor, songRequest } from './set/song-request';

/** Every song of the set mended as one is: each job can undo what was done to it. */
export const useMendSet = defineStore('mend-set', () => {
  const open = useSet();
  const busy = ref<{ done: number; total: number } | null>(null);
  /** What became of the songs, and what of them was not done. */
  const said = ref<string | null>(null);
  const notDone = ref<readonly string[]>([]);
  let givenUp = false;
  let call: RunningCall<MendAllReply> | null = null;

  async function run(reach: MendReach, accept: boolean) {
    if (busy.value) return;
    givenUp = false;
    said.value = null;
    const problems: string[] = [];
    let [mended, left] = [0, 0];
    const lines = open.lines.filter((l) => l.job && !l.row.aside);
    for (const [n, { job: listed, row, title }] of lines.entries()) {
      if (givenUp) break;
      busy.value = { done: n, total: lines.length };
      const job = await readJob(listed!.id);
      const request = job && (await songRequest(job, row, false));
      const plan = job && planFor(job, row);
      if (!request || !plan) continue;
      call = sideEngine().ask('mendAll', { ...request, known: [], reach, accept });
      let reply: MendAllReply | null = null;
      try {
        reply = await call.result;
      } catch (error) {
        problems.push(`${title}: ${(error as Error).message}`);
      }
      if (!reply) continue;
      left += reply.remaining.stops;
      if (reply.applied.length === 0) continue;
      const added = reply.applied.flatMap((a) =>
        a.steps.map((s) => ({ ...s, key: newKey(), on: true })),
      );
      const free = await whileFree(job.id, () =>
        changeJob(job.id, (now) => {
          const here = planFor(now, row);
          // What was changed meanwhile is another plan’s mends.
          if (!here || JSON.stringify(here.now.steps) !== JSON.stringify(plan.now.steps))
            return now;
          const did = `Mended with the set (${reply.applied.length})`;
          const steps = [...here.now.steps, ...added];
          const next = withPlan(now, pushState(here, { ...here.now, steps, did }));
          return { ...next, tally: null, changedAt: Date.now() };
        }),
      );
      if (free) mended++;
      else problems.push(`${title} is open in another tab: it was left as it is.`);
    }
    busy.value = null;
    notDone.value = problems;
    said.value = `${count(mended, 'song')} mended${givenUp ? ', and then it was given up' : ''}; ${count(left, 'stop')} remain.`;
  }
  function cancel() {
    givenUp = true;
    call?.cancel();
  }
  return { busy, said, notDone, run, cancel };
});
