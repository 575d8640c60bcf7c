import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as z from 'zod';
import { sayIssue } from '../../core/diagnostic/say-issue';
import { sayLater } from '../../core/diagnostic/later-version';
import { ModuleChoicesSchema } from '../../core/sources/module/choices';
import {
  JOB_SCHEMA_VERSION,
  sourcePath,
  type JobData,
  type JobSource,
} from '../../core/plan/job-file';
import { LeftAsIsSchema, PlanSchema } from '../../core/plan/plan-schema';
import { sameName } from '../../core/sets/layout';
import { isInside } from '../../core/sets/manifest';
import { parseSet } from '../../core/sets/set';
import type { SetPack } from '../../core/sets/set-file';
import { plainName } from '../../core/smf/name';
import { encodeUtf8 } from '../../core/smf/text';
import { parseTarget } from '../../core/target/parse';
import { findTarget } from '../../core/target/index';
import { TargetSchema, type Target } from '../../core/target/schema';
import { readInput, sha256, Unusable, writeOutput } from '../files';
import type { OpenSet } from './opened';

/*
 * A set as a folder of text: `set.json`, a `NAME.job.json` a song, and the sources by their names.
 * Keys are sorted, a step is a line, and no time of day stands in it: a difference can be read.
 */

const SongSchema = z.strictObject({
  jobVersion: z.literal(JOB_SCHEMA_VERSION),
  title: z.string().min(1).max(300),
  sources: z
    .array(
      z.strictObject({
        key: z.string().min(1).max(100),
        name: z.string().min(1).max(300).refine(isInside, 'It lies outside of the folder.'),
        sequence: z.int().min(0).optional(),
        reading: ModuleChoicesSchema.optional(),
      }),
    )
    .min(1)
    .max(64),
  plans: z
    .array(
      z.strictObject({
        /** One that ships with the desk by its id, another as it is. */
        target: z.union([z.string().max(100), TargetSchema]),
        ...PlanSchema.shape,
        leftAsIs: LeftAsIsSchema,
      }),
    )
    .min(1)
    .max(100),
});
type Song = z.infer<typeof SongSchema>;

const ENDING = '.job.json';

export function readTextSet(folder: string): SetPack {
  const file = join(folder, 'set.json');
  if (!existsSync(file)) throw new Unusable(`${folder}: holds no set.json, so it is no set.`);
  const { set, problem } = parseSet(readFileSync(file, 'utf8'));
  if (!set) throw new Unusable(`${folder}: ${problem}`);
  const files = new Map<string, Uint8Array>();
  const jobs = readdirSync(folder)
    .filter((name) => name.endsWith(ENDING))
    .sort()
    .map((name) => readSong(folder, name, files));
  return { set, jobs, files, titles: {} };
}

function readSong(folder: string, name: string, files: Map<string, Uint8Array>): JobData {
  const path = join(folder, name);
  let data: unknown;
  try {
    data = JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    throw new Unusable(`${path}: is not whole (${(error as Error).message}).`);
  }
  const later = sayLater(data, 'jobVersion', JOB_SCHEMA_VERSION);
  if (later !== null) throw new Unusable(`${path}: ${later}`);
  const parsed = SongSchema.safeParse(data);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new Unusable(`${path}, ${issue.path.join('.') || 'as a whole'}: ${sayIssue(issue)}`);
  }
  const song = parsed.data;
  const sources = song.sources.map(({ key, name: source, ...which }): JobSource => {
    const bytes = readInput(join(folder, source));
    const hash = sha256(bytes);
    files.set(sourcePath(hash), bytes);
    return { key, kind: 'smf', role: 'score', sha256: hash, name: source, ...which };
  });
  const plans = song.plans.map(({ target: said, leftAsIs, ...plan }) => {
    const target = typeof said === 'string' ? findTarget(said) : parseTarget(said).target;
    if (!target) throw new Unusable(`${path}: there is no target ${JSON.stringify(said)}.`);
    return {
      targetId: target.id,
      version: target.version,
      target,
      past: [],
      now: { ...plan, leftAsIs, did: '' },
      future: [],
      handovers: 0,
    };
  });
  return {
    id: name.slice(0, -ENDING.length),
    schemaVersion: JOB_SCHEMA_VERSION,
    title: song.title,
    changedAt: 0,
    sources,
    activeTarget: plans[0]!.targetId,
    plans,
    tally: null,
  } as JobData;
}

const isBuiltIn = (target: Target): boolean =>
  JSON.stringify(findTarget(target.id)) === JSON.stringify(target);

/** Keys in the order of letters, at every depth. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value).filter(([, v]) => v !== undefined);
  return Object.fromEntries(
    entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([k, v]) => [k, sorted(v)]),
  );
}

/** Lists that grow one line an entry. */
const BY_LINE = new Set(['steps', 'rows', 'sources', 'leftAsIs', 'uses']);

/** JSON whose steps, rows and sources are a line each. */
export function textOf(value: unknown, indent = '', key = ''): string {
  if (Array.isArray(value) && BY_LINE.has(key)) {
    if (value.length === 0) return '[]';
    const lines = value.map((v) => `${indent}  ${JSON.stringify(v)}`);
    return `[\n${lines.join(',\n')}\n${indent}]`;
  }
  if (Array.isArray(value)) {
    if (value.length === 0) return '[]';
    const lines = value.map((v) => `${indent}  ${textOf(v, `${indent}  `)}`);
    return `[\n${lines.join(',\n')}\n${indent}]`;
  }
  if (typeof value === 'object' && value !== null) {
    const lines = Object.entries(value).map(
      ([k, v]) => `${indent}  ${JSON.stringify(k)}: ${textOf(v, `${indent}  `, k)}`,
    );
    return lines.length === 0 ? '{}' : `{\n${lines.join(',\n')}\n${indent}}`;
  }
  return JSON.stringify(value);
}

export const asText = (value: unknown): Uint8Array => encodeUtf8(`${textOf(sorted(value))}\n`);

const songOf = (job: JobData): Song => ({
  jobVersion: JOB_SCHEMA_VERSION,
  title: job.title,
  sources: job.sources.map(({ key, name, sequence, reading }) => ({
    key,
    name,
    ...(sequence === undefined ? {} : { sequence }),
    ...(reading === undefined ? {} : { reading }),
  })),
  plans: job.plans.map(({ target, now: { steps, uses, leftAsIs } }) => ({
    target: isBuiltIn(target) ? target.id : target,
    steps,
    ...(uses ? { uses } : {}),
    leftAsIs,
  })),
});

/**
 * Jobs whose sources have names of their own in a folder: of two that are called alike, as exports out of
 * two folders are, the later one gets a number.
 */
function namedApart(jobs: readonly JobData[]): JobData[] {
  const taken = new Map<string, string>();
  const nameOf = (name: string, hash: string): string => {
    const plain = plainName(name) || 'source.mid';
    const dot = plain.lastIndexOf('.');
    const [stem, ending] = dot > 0 ? [plain.slice(0, dot), plain.slice(dot)] : [plain, ''];
    for (let n = 1; ; n++) {
      const own = n === 1 ? plain : `${stem}-${n}${ending}`;
      const by = taken.get(sameName(own)) ?? hash;
      if (by !== hash) continue;
      taken.set(sameName(own), hash);
      return own;
    }
  };
  return jobs.map((job) => ({
    ...job,
    sources: job.sources.map((s) => ({ ...s, name: nameOf(s.name, s.sha256) })),
  }));
}

/**
 * Writes what is text, and sources that are not there yet; `set.json` last, so that one that was cut is
 * still the set that it was.
 *
 * @param force whether what lies there of another content is written over
 */
export function writeTextSet({ path, set, jobs, files }: OpenSet, force: boolean) {
  const named = namedApart(jobs);
  const sources = new Map(named.flatMap((j) => j.sources.map((s) => [s.name, s.sha256] as const)));
  const missing = [...sources].filter(([name, hash]) => {
    const at = join(path, name);
    return !existsSync(at) || sha256(readInput(at)) !== hash;
  });
  if (!force)
    for (const name of ['set.json', ...missing.map(([name]) => name)])
      if (existsSync(join(path, name)))
        throw new Unusable(
          `${join(path, name)}: is there already, with another content; --force overwrites it.`,
        );
  for (const [name, hash] of missing) {
    const bytes = files.get(sourcePath(hash));
    if (bytes) writeOutput(join(path, name), bytes, true);
  }
  for (const job of named) writeOutput(join(path, `${job.id}${ENDING}`), asText(songOf(job)), true);
  writeOutput(join(path, 'set.json'), asText(set), true);
}
