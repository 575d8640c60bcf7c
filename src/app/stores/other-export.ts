import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue';
import { LARGEST_FILE_BYTES } from '../../core/smf/limits';
import type { RunningCall } from '../../worker/client';
import type { DriftReply } from '../../worker/protocol';
import { sideEngine } from './engine';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';

/**
 * Another export of the same song, looked at beside what is delivered: where it drifts, and what else
 * is otherwise. It is no source of the job and is not kept.
 */
export const useOtherExport = defineJobPart(() => {
  const job = useJob();
  const file = shallowRef<{ readonly name: string; readonly bytes: ArrayBuffer } | null>(null);
  const found = shallowRef<Extract<DriftReply, { ok: true }> | null>(null);
  const problem = ref<string | null>(null);
  let running: RunningCall<DriftReply> | null = null;

  async function hold() {
    const asked = job.request();
    if (!asked || !file.value) return;
    running?.cancel();
    // The bytes stay here: they are asked again with the next change of the plan.
    const { name, bytes } = file.value;
    const call = sideEngine().ask('driftFrom', { ...asked, known: [], other: { name, bytes } });
    running = call;
    problem.value = null;
    try {
      const reply = await call.result;
      if (running !== call || !reply) return;
      found.value = reply.ok ? reply : null;
      if (!reply.ok) problem.value = `${name}: ${reply.problems.join(' ')}`;
    } catch (error) {
      if (running !== call) return;
      found.value = null;
      problem.value = `${name} could not be compared: ${(error as Error).message}`;
    }
  }

  async function take(chosen: File) {
    const still = job.still();
    found.value = null;
    if (chosen.size > LARGEST_FILE_BYTES) {
      problem.value = `${chosen.name} is too large: files may have up to ${LARGEST_FILE_BYTES.toLocaleString('en-GB')} bytes.`;
      return;
    }
    try {
      const bytes = await chosen.arrayBuffer();
      if (!still()) return;
      file.value = { name: chosen.name, bytes };
    } catch {
      problem.value = `${chosen.name} could not be read. Choose it again.`;
      return;
    }
    await hold();
  }

  watch(
    () => job.revision,
    () => void hold(),
  );
  onScopeDispose(() => running?.cancel());

  return { name: computed(() => file.value?.name ?? null), found, problem, take };
});
