import { basename } from 'node:path';
import { type JobData, sourcePath } from '../../core/plan/job-file';
import { fingerprintOf, matchSongs } from '../../core/sets/match-songs';
import { Unusable, complain, jobWork, open as openFile, print, readInput, whyNot } from '../files';
import { type Status, worse } from '../proofing';
import { saveSet } from './open-set';
import { type OpenSet } from './opened';

/** Newer exports: each finds its song, by name or by its music, and becomes its source. */
export function takeNewer(open: OpenSet, files: readonly string[]): Status {
  if (files.length === 0) throw new Unusable('Name files, or a folder of them.');
  let status: Status = 0;
  const read = files.flatMap((file) => {
    const { opened, sha256: hash } = openFile(file);
    if (opened.source) return [{ file, hash, print: fingerprintOf(opened.source) }];
    complain(whyNot(file, opened));
    status = 2;
    return [];
  });
  const songs = open.jobs.flatMap((job) => {
    const row = open.set.rows.find((r) => r.is === 'song' && r.job === job.id);
    const [source] =
      row?.is === 'song' ? jobWork(job.title, job, open.files, row.target).sources : [];
    return source ? [{ key: job.id, names: [source.name], print: fingerprintOf(source) }] : [];
  });
  const found = matchSongs(
    read.map((r) => ({ key: r.file, names: [basename(r.file)], print: r.print })),
    songs,
  );
  const bytes = new Map(open.files);
  let jobs = [...open.jobs];
  for (const [i, { file, song, by, sure }] of found.entries()) {
    const job = jobs.find((j) => j.id === song);
    if (!job || sure < SURE) {
      const near = job ? `; the nearest is “${job.title}”, ${percent(sure)} sure` : '';
      complain(`${file}: is no newer export of a song of this set${near}. It was left.`);
      status = worse(status, 1);
      continue;
    }
    const { hash } = read[i]!;
    const name = basename(file);
    const old = jobsSource(job);
    print(
      old.sha256 === hash
        ? `${job.title}: ${file} is what it has`
        : `${job.title}: ${file}, by its ${by}, ${percent(sure)} sure`,
    );
    bytes.set(sourcePath(hash), readInput(file));
    const swap = <S extends { readonly key: string }>(list: readonly S[]) =>
      list.map((s) => (s.key === old.key ? { ...s, sha256: hash, name } : s));
    jobs = jobs.map((j) =>
      j === job
        ? ({
            ...j,
            sources: swap(j.sources),
            plans: j.plans.map((p) =>
              p.now.sources ? { ...p, now: { ...p.now, sources: swap(p.now.sources) } } : p,
            ),
          } as JobData)
        : j,
    );
  }
  saveSet({ ...open, jobs, files: bytes }, true);
  return status;
}

/** Below that a likeness of music is not taken for the song unasked. */
const SURE = 0.5;

const percent = (share: number) => `${Math.floor(share * 100)} %`;

const jobsSource = (job: JobData) => (job.plans[0]?.now.sources ?? job.sources)[0]!;
