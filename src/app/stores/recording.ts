import { until } from '@vueuse/core';
import { computed, markRaw, onScopeDispose, ref, shallowRef, watch } from 'vue';
import { layoutOf, type SoundLayout } from '../../core/sound/edits';
import type { SoundFacts } from '../../core/sound/facts';
import type { Peaks } from '../../core/sound/peaks';
import type { Samples } from '../../core/sound/samples';
import type { RunningCall } from '../../worker/client';
import type { ListenReply } from '../../worker/protocol';
import { bytesOf, db, storageProblem } from '../storage/db';
import { changeJob, forgetBytes } from '../storage/jobs';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { LARGEST_SOUND_BYTES, listenTo, sayTooLarge } from './listening';
import { useLooking } from './looking';
import { useShelf } from './shelf';

/** A recording that was decoded and measured. */
export interface Listened {
  readonly sha256: string;
  readonly facts: SoundFacts;
  readonly peaks: Peaks;
  readonly samples: Samples;
  /** Whole sentences: what may be missing in it. */
  readonly doubts: readonly string[];
}

/** What the file picker offers: whatever the browser decodes. */
export const SOUND_TYPES = 'audio/*,.wav,.flac,.mp3,.ogg,.opus,.m4a,.aac';
/** The desk can be worked at meanwhile: it is said only where it takes longer. */
const SILENT_MS = 1500;

/** Until nothing goes on and what was answered last has been taken up. */
async function quiet(job: ReturnType<typeof useJob>): Promise<void> {
  do {
    await until(() => job.idle).toBe(true);
    await new Promise((resolve) => requestIdleCallback(resolve, { timeout: 500 }));
  } while (!job.idle);
}

/** The recording that plays beside the open job: listened to in a worker of its own. */
export const useRecording = defineJobPart(() => {
  const job = useJob();
  const looking = useLooking();
  const shelf = useShelf();
  const listened = shallowRef<Listened | null>(null);
  const problem = ref<string | null>(null);
  const busy = ref<{ says: string; done: number; total: number; cancel: () => void } | null>(null);
  let running: RunningCall<ListenReply> | null = null;
  /** A file that is brought in is kept even where its job is left meanwhile. */
  let bringing = false;
  /** The job was left meanwhile: what goes on, and what is wrong, is told on the shelf. */
  let left = false;
  const goesOn = (now: typeof busy.value) => {
    if (left) shelf.busy = now;
    else busy.value = now;
  };
  const refuse = (says: string) => {
    if (left) shelf.problems.push(says);
    else problem.value = says;
  };

  /** @param read gives the bytes anew: they are handed over, so that they are held once */
  async function listen(
    name: string,
    read: () => Promise<ArrayBuffer>,
  ): Promise<ListenReply | null> {
    running?.cancel();
    const begun = performance.now();
    const cancel = () => running?.cancel();
    try {
      return await listenTo(
        read,
        (call) => (running = call),
        (done, total) => {
          // What takes no time needs no words.
          if (performance.now() - begun > SILENT_MS)
            goesOn({ says: `Listening to ${name}`, done, total, cancel });
        },
      );
    } finally {
      running = null;
      goesOn(null);
    }
  }

  const keep = (sha256: string, { facts, peaks, samples, doubts }: ListenReply & { ok: true }) => {
    listened.value = markRaw({ sha256, facts, peaks, samples, doubts });
    const { firstMs, lastMs, onsets, features } = facts;
    job.hear({ sha256, heard: { firstMs, lastMs, onsets, features } });
  };

  /** A file of the user’s, once it was listened to; what is wrong with it is said and changes nothing. */
  async function bring(file: File): Promise<boolean> {
    problem.value = null;
    const id = job.record?.id;
    const still = job.still();
    if (job.readOnly) {
      refuse(`${file.name}: this job is open in another tab. Bring the recording in there.`);
      return false;
    }
    if (file.size > LARGEST_SOUND_BYTES) {
      refuse(sayTooLarge(file.name));
      return false;
    }
    bringing = true;
    try {
      const reply = await listen(file.name, () => file.arrayBuffer());
      if (!reply) return false;
      if (!reply.ok) {
        refuse(`${file.name}: ${reply.problem}`);
        return false;
      }
      const { sha256 } = reply;
      await db.sources.put({ sha256, name: file.name, bytes: file });
      const sound = { sha256, name: file.name, ms: reply.facts.lengthMs };
      // Meanwhile another tab may have taken the job: what it does not keep leaves no bytes behind.
      if (still() && job.readOnly) {
        await forgetBytes(sha256);
        refuse(`${file.name}: this job was opened in another tab. Bring the recording in there.`);
        return false;
      }
      if (still()) {
        keep(sha256, reply);
        await job.setSound(sound);
      }
      // The job was left while its recording was listened to: it is beside it when it is opened again.
      else if (id) await changeJob(id, (left) => ({ ...left, sound, changedAt: Date.now() }));
      return true;
    } catch (error) {
      refuse(`${file.name}: ${storageProblem(error, 'file')}`);
      return false;
    } finally {
      bringing = false;
    }
  }

  onScopeDispose(() => {
    if (!bringing) return running?.cancel();
    left = true;
    shelf.busy = busy.value;
  });

  // The recording of a job that was opened.
  watch(
    () => job.record?.sound?.sha256,
    async (sha256) => {
      const sound = job.record?.sound;
      if (!sha256 || !sound) {
        running?.cancel();
        listened.value = null;
        return;
      }
      if (listened.value?.sha256 === sha256) return;
      listened.value = null;
      problem.value = null;
      let row = await db.sources.get(sha256);
      if (!row) {
        problem.value = `The bytes of ${sound.name} are no longer in the browser. Bring it in again.`;
        return;
      }
      const reply = await listen(sound.name, async () => {
        const here = row ?? (await db.sources.get(sha256))!;
        row = undefined;
        return bytesOf(here);
      });
      if (!reply || job.record?.sound?.sha256 !== sha256) return;
      if (!reply.ok) {
        problem.value = `${sound.name}: ${reply.problem}`;
        return;
      }
      keep(sha256, reply);
      // Nothing that goes on is given up for it: what was heard is looked at when all is quiet.
      await quiet(job);
      if (job.record?.sound?.sha256 === sha256) await job.refresh();
    },
    { immediate: true },
  );

  const lengthUs = computed(() => Math.round((listened.value?.facts.lengthMs ?? 0) * 1000));
  /** How the recording lies on the clock of what is delivered, and of what is on the sheet. */
  const layout = computed<SoundLayout>(() =>
    listened.value ? layoutOf(job.shown?.delivered.sound ?? [], lengthUs.value) : [],
  );
  const shownLayout = computed<SoundLayout>(() =>
    listened.value ? layoutOf(looking.piece?.sound ?? [], lengthUs.value) : [],
  );

  return { listened, problem, busy, layout, shownLayout, bring };
});
