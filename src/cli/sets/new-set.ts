import { basename } from 'node:path';
import { randomUUID } from 'node:crypto';
import { JOB_SCHEMA_VERSION, type JobData, sourcePath } from '../../core/plan/job-file';
import { recipeFor } from '../../core/plan/use-recipe';
import { changeSet } from '../../core/sets/changes';
import { sameName } from '../../core/sets/layout';
import { MOST_ROWS, newSet, type SongRow } from '../../core/sets/set';
import { plainName, stemOf } from '../../core/smf/name';
import { count } from '../../core/target/words';
import {
  Unusable,
  complain,
  loadRecipe,
  loadTarget,
  open as openFile,
  print,
  readInput,
  whyNot,
} from '../files';
import type { Status } from '../proofing';
import { songsIn } from '../folders';
import { saveSet } from './open-set';
import type { SetOptions } from './options';

/** Of the letters that an id may have, room is left for a number. */
const LONGEST_ID = 80;

export function makeSet(path: string, songs: readonly string[], options: SetOptions): Status {
  if (options.target === undefined)
    throw new Unusable('A target is needed: --target with the id of one, or with a target file.');
  const target = loadTarget(options.target);
  const recipe = loadRecipe(options.recipe);
  const files = songsIn(songs);
  if (files.length === 0) throw new Unusable('Name songs: files, or folders of them.');
  if (files.length > MOST_ROWS)
    throw new Unusable(
      `${count(files.length, 'song')}: a set holds ${MOST_ROWS}. Make one for each folder.`,
    );
  const isFolder = !/\.quillset$/i.test(path);
  const bytes = new Map<string, Uint8Array>();
  const jobs: JobData[] = [];
  const ids = new Set<string>();
  let status: Status = 0;
  for (const file of files) {
    const { opened, sha256: hash } = openFile(file, { target });
    if (!opened.source) {
      complain(whyNot(file, opened));
      status = 2;
      continue;
    }
    const name = basename(file);
    // The name of a file too, in a folder of text.
    const stem = [...plainName(stemOf(name))].slice(0, LONGEST_ID).join('') || 'song';
    let id = stem;
    for (let n = 2; ids.has(sameName(id)); n++) id = `${stem}-${n}`;
    ids.add(sameName(id));
    bytes.set(sourcePath(hash), readInput(file));
    const { steps, uses } = recipe ? recipeFor(recipe, [opened.source]) : { steps: [] };
    jobs.push({
      id,
      schemaVersion: JOB_SCHEMA_VERSION,
      title: stemOf(name).replace(/[-_]+/g, ' ').trim() || 'Untitled',
      changedAt: 0,
      sources: [{ key: 'main', kind: 'smf', role: 'score', sha256: hash, name }],
      activeTarget: target.id,
      plans: [
        {
          targetId: target.id,
          version: target.version,
          target,
          past: [],
          now: { steps, ...(uses ? { uses } : {}), leftAsIs: recipe?.leftAsIs ?? [], did: '' },
          future: [],
          handovers: 0,
        },
      ],
      tally: null,
    } as unknown as JobData);
  }
  const title = options.title ?? stemOf(basename(path)).replace(/\.quillset$/i, '');
  const rows = jobs.map((j): SongRow => ({ is: 'song', key: j.id, job: j.id, target: target.id }));
  const set = changeSet(
    { ...newSet(isFolder ? title : randomUUID(), title), recipe: recipe as never },
    { is: 'add', rows },
  );
  saveSet(
    { path, isFolder, set, jobs, files: bytes, titles: {} },
    options.force === true,
    options.light,
  );
  print(`${path}: ${count(jobs.length, 'song')} for ${target.name}`);
  return status;
}
