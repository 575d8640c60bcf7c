import { formatPath, parseJob, soundPath, sourcePath, type JobData } from '../plan/job-file';
import { encodeUtf8 } from '../smf/text';
import { parseSet, type SongSet } from './set';

/**
 * A set as one file, `.quillset`: `set.json`, a job for each `jobs/N.json`, and their sources beside
 * them as in the file of a job. A light one has the set alone, and names of its jobs.
 */
export interface SetPack {
  readonly set: SongSet;
  readonly jobs: readonly JobData[];
  /** By path: sources, their formats and recordings. */
  readonly files: ReadonlyMap<string, Uint8Array>;
  /** Titles of jobs that a light one names, by id. */
  readonly titles: Readonly<Record<string, string>>;
}

const json = (value: unknown) => encodeUtf8(`${JSON.stringify(value, null, 2)}\n`);

export function setFiles(pack: SetPack, light = false): { path: string; bytes: Uint8Array }[] {
  const titles = {
    ...pack.titles,
    ...Object.fromEntries(pack.jobs.map((j) => [j.id, j.title])),
  };
  const out = [
    { path: 'set.json', bytes: json(pack.set) },
    { path: 'titles.json', bytes: json(titles) },
  ];
  if (light) return out;
  pack.jobs.forEach((job, i) => out.push({ path: `jobs/${i + 1}.json`, bytes: json(job) }));
  for (const [path, bytes] of pack.files) out.push({ path, bytes });
  return out;
}

export type ReadSetFiles =
  | { readonly pack: SetPack; readonly problem?: undefined }
  | { readonly pack?: undefined; readonly problem: string };

/** Paths of everything that a job needs beside itself. */
export const neededBy = (job: JobData): string[] => [
  ...job.sources.map((s) => sourcePath(s.sha256)),
  ...(job.sound ? [soundPath(job.sound.sha256)] : []),
];

/** Checks the files of a set; that bytes are what their names say is for the caller. */
export function readSetFiles(files: ReadonlyMap<string, Uint8Array>): ReadSetFiles {
  const text = (path: string) => new TextDecoder().decode(files.get(path));
  if (!files.has('set.json'))
    return { problem: 'The pack holds no set.json, so it is not a set of Wary Quill.' };
  const { set, problem } = parseSet(text('set.json'));
  if (!set) return { problem };
  const jobs: JobData[] = [];
  const kept = new Map<string, Uint8Array>();
  for (const path of [...files.keys()].filter((p) => /^jobs\/\d+\.json$/.test(p)).sort(byNumber)) {
    const read = parseJob(text(path));
    if (!read.job) return { problem: `${path}: ${read.problem}` };
    for (const needed of neededBy(read.job)) {
      const bytes = files.get(needed);
      if (!bytes) return { problem: `The set lacks a source of “${read.job.title}” (${needed}).` };
      kept.set(needed, bytes);
    }
    for (const { sha256 } of read.job.sources) {
      const format = files.get(formatPath(sha256));
      if (format) kept.set(formatPath(sha256), format);
    }
    jobs.push(read.job);
  }
  return { pack: { set, jobs, files: kept, titles: titlesIn(files) } };
}

const byNumber = (a: string, b: string) => parseInt(a.slice(5), 10) - parseInt(b.slice(5), 10);

function titlesIn(files: ReadonlyMap<string, Uint8Array>): Record<string, string> {
  const out: Record<string, string> = {};
  try {
    const data: unknown = JSON.parse(new TextDecoder().decode(files.get('titles.json')));
    for (const [id, title] of Object.entries(data as object))
      if (typeof title === 'string') out[id] = title.slice(0, 300);
  } catch {
    // Without it jobs are told by their ids.
  }
  return out;
}
