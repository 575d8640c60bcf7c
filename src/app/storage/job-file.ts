import { parseKept } from '../../core/formats/own/kept';
import { formatPath, parseJob, soundPath, sourcePath } from '../../core/plan/job-file';
import { bytesOf, db, type SourceRow } from './db';
import { newKey, type JobRecord } from './job';

const encode = (text: string) => new TextEncoder().encode(text);

export interface PackedFile {
  path: string;
  bytes: Uint8Array;
}

/** The files of a job, ready to be packed. */
export async function jobFiles(job: JobRecord): Promise<PackedFile[]> {
  const text = `${JSON.stringify(job, null, 2)}\n`;
  const files: PackedFile[] = [{ path: 'job.json', bytes: encode(text) }];
  for (const sha256 of new Set(job.sources.map((s) => s.sha256))) {
    const row = await db.sources.get(sha256);
    if (!row) continue;
    files.push({ path: sourcePath(sha256), bytes: new Uint8Array(await bytesOf(row)) });
    if (row.own)
      files.push({ path: formatPath(sha256), bytes: encode(JSON.stringify(row.own, null, 2)) });
  }
  const sound = job.sound && (await db.sources.get(job.sound.sha256));
  if (sound)
    files.push({ path: soundPath(sound.sha256), bytes: new Uint8Array(await bytesOf(sound)) });
  return files;
}

export type ReadJob =
  | {
      readonly job: JobRecord;
      readonly sources: readonly SourceRow[];
      readonly problem?: undefined;
    }
  | { readonly job?: undefined; readonly problem: string };

const hex = (buffer: ArrayBuffer) =>
  Array.from(new Uint8Array(buffer), (b) => b.toString(16).padStart(2, '0')).join('');

/** Checks the files of a pack; sources must be what their names say. Always gets an id of its own. */
export async function readJobFiles(files: readonly PackedFile[]): Promise<ReadJob> {
  const main = files.find((f) => f.path === 'job.json');
  if (!main) return { problem: 'The pack holds no job.json, so it is not a job of Wary Quill.' };
  const parsed = parseJob(new TextDecoder().decode(main.bytes));
  if (!parsed.job) return { problem: parsed.problem };
  const job = parsed.job as JobRecord;
  const sources: SourceRow[] = [];
  const wanted = [
    ...job.sources.map((s) => ({ ...s, path: sourcePath(s.sha256) })),
    ...(job.sound ? [{ ...job.sound, path: soundPath(job.sound.sha256) }] : []),
  ];
  for (const { sha256, name, path } of wanted) {
    const file = files.find((f) => f.path === path);
    if (!file) return { problem: `The pack lacks the source ${name} (${path}).` };
    const bytes = file.bytes.slice().buffer;
    const found = hex(await crypto.subtle.digest('SHA-256', bytes));
    if (found !== sha256)
      return { problem: `The source ${name} is not the one that the job was made with.` };
    const format = files.find((f) => f.path === formatPath(sha256));
    const own = format ? parseKept(new TextDecoder().decode(format.bytes)) : null;
    if (format && !own)
      return { problem: `The format that ${name} is read by is not whole. Save the job again.` };
    sources.push({ sha256, name, bytes, ...(own ? { own } : {}) });
  }
  const taken = await db.jobs.where('id').equals(job.id).count();
  return { job: taken ? { ...job, id: newKey() } : job, sources };
}
