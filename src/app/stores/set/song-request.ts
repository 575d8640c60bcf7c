import { refOf } from '../../../core/sources/which';
import { companionName } from '../../../core/target/sound';
import type { SongRow } from '../../../core/sets/set';
import type { SongRequest } from '../../../worker/protocol';
import { bytesOf, db } from '../../storage/db';
import type { JobRecord } from '../../storage/job';

export const planFor = (job: JobRecord, row: SongRow) =>
  job.plans.find((p) => p.targetId === row.target) ?? null;

/** What tells one state of a song from another: what is known of it holds as long as this does. */
export function stateOf(job: JobRecord, row: SongRow): string {
  return `${job.id} ${job.changedAt} ${row.target} ${row.name ?? ''}`;
}

/** A song as the engine is asked for it; null where its job has no plan for its target any more. */
export async function songRequest(job: JobRecord, row: SongRow): Promise<SongRequest | null> {
  const plan = planFor(job, row);
  if (!plan) return null;
  const { now, target } = plan;
  const beside = job.sound
    ? { recordingMs: job.sound.ms, soundName: companionName(job.sound.name) }
    : {};
  // Only a target that is given the recording needs its bytes.
  const gives = target.outputs.some((o) => o.writer === 'sound' || o.writer === 'sound-link');
  const kept = gives && job.sound ? await db.sources.get(job.sound.sha256) : undefined;
  return {
    job: job.title,
    sources: (now.sources ?? job.sources).map(refOf),
    target,
    plan: { ...(now.uses ? { uses: now.uses } : {}), steps: now.steps },
    leftAsIs: now.leftAsIs,
    ...beside,
    ...(kept && job.sound ? { sound: { name: job.sound.name, bytes: await bytesOf(kept) } } : {}),
    ...(row.name === undefined ? {} : { name: row.name }),
  };
}
