import { computed, markRaw, onScopeDispose, ref, shallowRef, watch } from 'vue';
import type { Dropped } from '../../core/standin/played';
import { mapTick, unmapTick } from '../../core/time/time-map';
import type { RehearseReply } from '../../worker/protocol';
import type { RunningCall } from '../../worker/client';
import { sceneOf } from '../rehearsal/scenes';
import type { Scene } from '../rehearsal/scene';
import { newKey } from '../storage/job';
import { engine } from './engine';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { usePlaying } from './playing';

/** What the device does with what would be handed over now: played anew at each change of the plan. */
export const useRehearsal = defineJobPart(() => {
  const job = useJob();
  const playing = usePlaying();
  /** The stage is open: only then it is worked out. */
  const open = ref(false);
  const reply = shallowRef<RehearseReply | null>(null);
  const problem = ref<string | null>(null);
  const busy = ref(false);
  let running: RunningCall<RehearseReply> | null = null;

  async function play() {
    const asked = job.request();
    if (!asked || !open.value) return;
    running?.cancel();
    busy.value = true;
    problem.value = null;
    const call = engine().ask('rehearse', { ...asked, known: [] });
    running = call;
    try {
      const found = await call.result;
      if (running !== call) return;
      if (found) reply.value = markRaw(found);
    } catch (error) {
      if (running === call)
        problem.value = `It could not be rehearsed: ${(error as Error).message}`;
    } finally {
      if (running === call) {
        running = null;
        busy.value = false;
      }
    }
  }
  watch([() => job.shown, open], ([shown, there]) => {
    if (shown && there) void play();
  });
  onScopeDispose(() => running?.cancel());

  const definition = computed(() => (job.target ? sceneOf(job.target) : null));
  /** The delivered file of the piece that the pulse plays. */
  const file = computed(
    () => reply.value?.holds.find((h) => h.piece === job.shown?.piece)?.file ?? null,
  );
  const scene = computed<Scene | null>(() =>
    reply.value && job.target && definition.value
      ? markRaw(definition.value.load(reply.value.played, job.target, file.value))
      : null,
  );
  /** Where the device is, in microseconds: what is heard of the source is put to the delivery’s clock. */
  const toDeviceUs = (ms: number) => {
    const shift = playing.listen === 'source' ? (job.shown?.commonShiftMs ?? 0) : 0;
    return Math.max(0, (ms + shift) * 1000);
  };
  const us = computed(() => toDeviceUs(playing.ms));

  /** Keys of the open findings that had foretold a loss, by its reason. */
  const foretold = computed(() => {
    const lost = reply.value?.rehearsal.lost ?? [];
    return new Map(lost.map((l) => [`${l.because} ${l.how}`, l.findings]));
  });
  const findingsOf = (d: Pick<Dropped, 'because' | 'how'>): readonly string[] =>
    foretold.value.get(`${d.because} ${d.how}`) ?? [];

  function go(toUs: number) {
    playing.listen = 'delivered';
    playing.seek(toUs / 1000);
  }

  // --- tried and heard ------------------------------------------------------------------------
  const notes = computed(() =>
    (job.record?.tried ?? [])
      .filter((n) => n.targetId === job.target?.id)
      .map((note) => {
        const piece = job.shown?.delivered;
        const tick = mapTick(piece?.fromBase ?? undefined, note.tick);
        return { note, tick, ms: piece?.clock.msAt(tick) ?? 0 };
      })
      .sort((a, b) => a.tick - b.tick),
  );
  /** Counted, so that the field is gone to each time it is asked for. */
  const jotting = ref(0);
  const askToJot = () => jotting.value++;
  async function jot(says: string, atMs: number) {
    const piece = job.shown?.delivered;
    const target = job.target;
    if (!piece || !target || says.trim() === '') return;
    const handover = job.plan && job.plan.handovers > 0 ? job.plan.handovers : null;
    const tick = unmapTick(piece.fromBase ?? undefined, piece.clock.tickAt(atMs));
    const note = {
      key: newKey(),
      tick,
      says: says.trim(),
      targetId: target.id,
      handover,
      done: false,
    };
    await job.setTried([...(job.record?.tried ?? []), note]);
  }
  const changeNote = (key: string, more: { done?: boolean; says?: string }) =>
    job.setTried((job.record?.tried ?? []).map((n) => (n.key === key ? { ...n, ...more } : n)));
  const removeNote = (key: string) =>
    job.setTried((job.record?.tried ?? []).filter((n) => n.key !== key));

  return {
    open,
    reply,
    problem,
    busy,
    definition,
    scene,
    us,
    toDeviceUs,
    findingsOf,
    go,
    notes,
    jotting,
    askToJot,
    jot,
    changeNote,
    removeNote,
  };
});
