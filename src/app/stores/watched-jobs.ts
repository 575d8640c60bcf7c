import { sourcesOf, type JobRecord } from '../storage/job';

/** A job and its source that a file of the watched folder is a newer export of. */
export interface WatchedJob {
  readonly job: JobRecord;
  readonly key: string;
}

export const bare = (name: string) => name.split('/').at(-1)!;

export const titlesOf = (of: readonly WatchedJob[]) => of.map(({ job }) => job.title).join(', ');

/**
 * The jobs that a file is a newer export for: the one that is open, else the last changed, and with it
 * all that came from the very same file. Another song of that name is none of them.
 */
export function jobsOf(
  name: string,
  open: JobRecord | null,
  jobs: readonly JobRecord[],
): WatchedJob[] {
  const named = (job: JobRecord, same?: string): WatchedJob | null => {
    const source = sourcesOf(job).find(
      (s) => bare(s.name) === bare(name) && (same === undefined || s.sha256 === same),
    );
    return source ? { job, key: source.key } : null;
  };
  const all = open ? [open, ...jobs.filter((j) => j.id !== open.id)] : jobs;
  const first = all.map((j) => named(j)).find((found) => found !== null);
  if (!first) return [];
  const { sha256 } = sourcesOf(first.job).find((s) => s.key === first.key)!;
  const others = all.flatMap((j) => (j.id === first.job.id ? [] : (named(j, sha256) ?? [])));
  return [first, ...others];
}
