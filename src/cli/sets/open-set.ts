import type { OpenSet } from './opened';
import { existsSync, statSync } from 'node:fs';
import { unpackFiles } from '../../core/formats/unpack';
import { packFiles } from '../../core/outputs/pack';
import type { JobData } from '../../core/plan/job-file';
import { readSetFiles, setFiles } from '../../core/sets/set-file';
import type { SongRow } from '../../core/sets/set';
import { jobWork, readInput, Unusable, writeOutput } from '../files';
import type { Work } from '../proofing';
import { soundFrom } from '../sounds';
import { readTextSet, writeTextSet } from './text-set';

export function openSet(path: string): OpenSet {
  if (!existsSync(path))
    throw new Unusable(`${path}: is not there. Make one: set new ${path} SONGS… --target T.`);
  if (statSync(path).isDirectory()) return { ...readTextSet(path), path, isFolder: true };
  const unpacked = unpackFiles(readInput(path));
  if (unpacked.problem !== undefined) throw new Unusable(`${path}: ${unpacked.problem}`);
  const { pack, problem } = readSetFiles(unpacked.files);
  if (!pack) throw new Unusable(`${path}: ${problem}`);
  return { ...pack, path, isFolder: false };
}

export function saveSet(open: OpenSet, force: boolean, light = false) {
  if (open.isFolder) return writeTextSet(open, force);
  writeOutput(open.path, packFiles(setFiles(open, light)), force);
}

export const jobOf = (open: OpenSet, row: SongRow): JobData | undefined =>
  open.jobs.find((j) => j.id === row.job);

export const titleOf = (open: OpenSet, row: SongRow): string =>
  jobOf(open, row)?.title ?? open.titles[row.job] ?? row.job;

/** A song as a piece of work. */
export async function songWork(open: OpenSet, row: SongRow): Promise<Work> {
  const job = jobOf(open, row);
  if (!job)
    throw new Unusable(
      `${open.path}: the set names the job “${titleOf(open, row)}” and does not hold it. Save it whole, not light.`,
    );
  const { sound, ...work } = jobWork(job.title, job, open.files, row.target);
  return {
    ...work,
    sound: sound && (await soundFrom(job.title, sound.name, sound.bytes)),
  };
}
