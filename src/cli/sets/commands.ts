import { randomUUID } from 'node:crypto';
import { mendMany } from '../../core/plan/mend';
import type { JobData } from '../../core/plan/job-file';
import type { PlanStep } from '../../core/plan/plan';
import { tallyOf } from '../../core/rules/proof';
import { songsOf } from '../../core/sets/set';
import { count } from '../../core/target/words';
import { Unusable, print } from '../files';
import { type Status, proofOne, worse } from '../proofing';
import { songsIn } from '../folders';
import { openSet, saveSet, songWork, titleOf } from './open-set';
import { type OpenSet } from './opened';
import { makeSet } from './new-set';
import { takeNewer } from './newer';
import type { SetOptions } from './options';
import { lookAt, sayLooked, songJson, statusFor } from './look-at';
import { handOverSet, statusOf } from './hand-over';

/** `set new FILE SONGS…`, `set FILE proof`, `set FILE hand-over --out DIR`, `set FILE status DIR`. */
export async function setCommand(args: string[], options: SetOptions): Promise<Status> {
  const [first, second, ...more] = args;
  if (first === 'new') {
    if (second === undefined) throw new Unusable('Name the set to make, such as quay.quillset.');
    return makeSet(second, more, options);
  }
  if (first === undefined || second === undefined)
    throw new Unusable(
      'Say a set and what to do: set FILE proof, mend, newer FILES…, hand-over or status DIR.',
    );
  const open = openSet(first);
  switch (second) {
    case 'proof':
      return proofTheSet(open, options);
    case 'mend':
      return mendSet(open, options);
    case 'hand-over':
      return handOverSet(open, options);
    case 'newer':
      return takeNewer(open, songsIn(more));
    case 'status':
      if (more[0] === undefined) throw new Unusable('Name the folder: set FILE status DIR.');
      return statusOf(open, more[0], options);
    default:
      throw new Unusable(`set FILE ${second}: there are proof, mend, newer, hand-over and status.`);
  }
}

async function proofTheSet(open: OpenSet, options: SetOptions): Promise<Status> {
  const looked = await lookAt(open);
  if (options.json)
    print(
      JSON.stringify({
        set: open.set.title,
        songs: looked.songs.map(songJson),
        findings: looked.findings,
      }),
    );
  else sayLooked(open, looked, null);
  return statusFor(looked);
}

/** Mends every song as `mend` does, and keeps what it did in the set. */
async function mendSet(open: OpenSet, options: SetOptions): Promise<Status> {
  const jobs = new Map(open.jobs.map((j) => [j.id, j]));
  let status: Status = 0;
  for (const row of songsOf(open.set)) {
    const work = await songWork({ ...open, jobs: [...jobs.values()] }, row);
    const start = proofOne(work, work.plan);
    const { applied, choices } = mendMany({
      rendition: start.run.rendition,
      target: work.target,
      base: start.base,
      reach: 'keep',
      accept: options.accept === true,
      leftAsIs: work.leftAsIs,
    });
    const added = applied.flatMap((a, i) =>
      a.steps.map((s, k): PlanStep => ({
        ...s,
        key: `mend-${randomUUID().slice(0, 8)}-${i}-${k}`,
      })),
    );
    const job = jobs.get(row.job)!;
    const steps = [...work.plan.steps, ...added];
    jobs.set(job.id, {
      ...job,
      plans: job.plans.map((p) =>
        p.targetId === row.target ? { ...p, now: { ...p.now, steps } } : p,
      ),
    } as JobData);
    const { stops } = tallyOf(proofOne(work, { ...work.plan, steps }).findings, work.leftAsIs);
    print(
      `${titleOf(open, row)}: ${count(applied.length, 'mend')}, ${count(stops, 'stop')} left` +
        (choices.length > 0 ? `, ${count(choices.length, 'choice')} open` : ''),
    );
    if (stops > 0) status = worse(status, 1);
  }
  saveSet({ ...open, jobs: [...jobs.values()] }, true, false);
  return status;
}
