import { listed } from '../../core/target/words';
import type { RunningCall } from '../../worker/client';
import type { ListenReply } from '../../worker/protocol';
import { db, storageProblem } from '../storage/db';
import { changeJob, forgetBytes } from '../storage/jobs';
import { useJob } from './job';
import { LARGEST_SOUND_BYTES, listenTo, sayTooLarge } from './listening';
import { useShelf } from './shelf';

/** A recording and the job that it belongs to. */
export interface ForJob {
  readonly id: string;
  readonly file: File;
}

/**
 * Puts recordings beside jobs that were made of the songs of their names, one after the other; no job is
 * opened for it. What is wrong with one is told on the shelf and keeps none of the others; so are those
 * that are left when it is given up.
 */
export async function bringBeside(all: readonly ForJob[]): Promise<void> {
  const shelf = useShelf();
  let given = false;
  for (const [at, { id, file }] of all.entries()) {
    let running: RunningCall<ListenReply> | null = null;
    const cancel = () => {
      given = true;
      running?.cancel();
    };
    const says = `Listening to ${file.name}`;
    const goes = (share: number) =>
      (shelf.busy = { says, done: at + share, total: all.length, cancel });
    goes(0);
    let brought = false;
    try {
      const runs = (call: RunningCall<ListenReply>) => {
        running = call;
        // It was given up before its bytes were read.
        if (given) call.cancel();
      };
      brought = await beside({ id, file }, runs, goes);
    } catch (error) {
      shelf.problems.push(`${file.name}: ${storageProblem(error, 'file')}`);
    } finally {
      shelf.busy = null;
    }
    if (!given) continue;
    // Given up while it was kept: that one is there.
    const left = all.slice(brought ? at + 1 : at).map((p) => p.file.name);
    if (left.length === 0) return;
    shelf.problems.push(`${listed(left)}: not brought in. Open the job, and drop it there.`);
    return;
  }
}

/** @returns whether it lies beside its job now; where it does not, why is on the shelf */
async function beside(
  { id, file }: ForJob,
  runs: (call: RunningCall<ListenReply>) => void,
  goes: (share: number) => void,
): Promise<boolean> {
  const shelf = useShelf();
  const refuse = (says: string) => {
    shelf.problems.push(says);
    return false;
  };
  if (file.size > LARGEST_SOUND_BYTES) return refuse(sayTooLarge(file.name));
  const reply = await listenTo(
    () => file.arrayBuffer(),
    runs,
    (done, total) => goes(total > 0 ? done / total : 0),
  );
  if (!reply) return false;
  if (!reply.ok) return refuse(`${file.name}: ${reply.problem}`);
  const { sha256 } = reply;
  await db.sources.put({ sha256, name: file.name, bytes: file });
  const sound = { sha256, name: file.name, ms: reply.facts.lengthMs };
  const job = useJob();
  // Somebody opened it meanwhile: the desk has it, and saves it.
  if (job.record?.id === id && !job.readOnly) await job.setSound(sound);
  else await changeJob(id, (was) => ({ ...was, sound, changedAt: Date.now() }));
  // A job that was removed meanwhile leaves no bytes behind.
  await forgetBytes(sha256);
  return true;
}
