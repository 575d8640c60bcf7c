import { randomUUID } from 'node:crypto';
import { mendMany } from '../../core/plan/mend';
import type { JobData } from '../../core/plan/job-file';
import type { PlanStep } from '../../core/plan/plan';
import { tallyOf } from '../../core/rules/proof';
import { changeSet } from '../../core/sets/changes';
import { songsOf } from '../../core/sets/set';
import { count } from '../../core/target/words';
import { complain, print } from '../files';
import { type Status, proofOne, worse } from '../proofing';
import { lookAt } from './look-at';
import { saveSet, songWork, titleOf } from './open-set';
import { type OpenSet } from './opened';
import type { SetOptions } from './options';

/** Mends every song as `mend` does, and keeps what it did in the set. */
export async function mendSet(open: OpenSet, options: SetOptions): Promise<Status> {
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
  const mended = { ...open, jobs: [...jobs.values()] };
  saveSet(mended, true, false);
  if (options.accept !== true && !options.take) return status;
  return worse(status, await mendBeside(mended, options));
}

/** Rounds of mends of the set: one may show the next. */
const MOST_ROUNDS = 5;

/** Mends what is wrong with songs beside each other: those that are named, and the first of each stop. */
async function mendBeside(open: OpenSet, options: SetOptions): Promise<Status> {
  const asked = new Set(options.take);
  let { set } = open;
  for (let round = 0; ; round++) {
    const { findings } = await lookAt({ ...open, set });
    const stops = findings.filter((f) => f.severity === 'stop');
    const mends = [
      ...findings.flatMap((f) => f.mends).filter((m) => asked.delete(m.title)),
      // What leaves a song out is never taken unasked.
      ...(options.accept === true
        ? stops.flatMap((f) => f.mends.find((m) => m.change.is !== 'aside') ?? [])
        : []),
    ];
    if (mends.length === 0 || round === MOST_ROUNDS) {
      for (const title of asked)
        complain(`${open.path}: no mend of the set is called “${title}”; proof lists them.`);
      for (const f of stops) complain(`${f.severity}: ${f.title}. ${f.says}`);
      return asked.size > 0 ? 2 : stops.length > 0 ? 1 : 0;
    }
    for (const { title, change } of new Map(mends.map((m) => [m.title, m])).values()) {
      set = changeSet(set, change);
      print(`${set.title}: ${title}`);
    }
    saveSet({ ...open, set }, true, false);
  }
}
