import { whichOf, type Which } from '../core/sources/which';
import { createHash } from 'node:crypto';
import {
  accessSync,
  closeSync,
  constants,
  existsSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { sayDamage, isFatal } from '../core/diagnostic/damage';
import { unpackFiles } from '../core/formats/unpack';
import { formatPath, parseJob, soundPath, sourcePath, type JobData } from '../core/plan/job-file';
import type { Plan, Recipe } from '../core/plan/plan';
import { parseKept } from '../core/formats/own/kept';
import type { OwnFormats } from '../core/sources/readers/own';
import { openSource, type Opened } from '../core/sources/source';
import { parseRecipe } from '../core/plan/recipe';
import { soundKindOf } from '../core/sound/decode';
import { LARGEST_DECODED_BYTES } from '../core/sound/samples';
import { LARGEST_FILE_BYTES } from '../core/smf/limits';
import { builtInTargets, findTarget } from '../core/target/index';
import { nearest } from '../core/diagnostic/say-problems';
import { readTargetPack } from '../core/handover/target-pack';
import type { Target } from '../core/target/schema';

/** The call or an input cannot be used; one plain line says which and why. */
export class Unusable extends Error {}

export const sha256 = (bytes: Uint8Array): string =>
  createHash('sha256').update(bytes).digest('hex');

export const readInput = (file: string): Uint8Array =>
  readUpTo(file, LARGEST_FILE_BYTES, 'sources', 'Split it, or export fewer parts.');

/** A recording; it has the limit that recordings have on the desk. */
export const readSound = (file: string): Uint8Array =>
  readUpTo(file, LARGEST_DECODED_BYTES, 'recordings', 'Cut it into pieces first.');

/** A score or a recording, each with its own limit: what it is stands at its beginning. */
export function readScoreOrSound(file: string): Uint8Array {
  if (file === '-' || !existsSync(file) || !statSync(file).isFile()) return readInput(file);
  const head = new Uint8Array(4096);
  const opened = openSync(file, 'r');
  try {
    readSync(opened, head);
  } finally {
    closeSync(opened);
  }
  return soundKindOf(head) ? readSound(file) : readInput(file);
}

function readUpTo(file: string, most: number, what: string, advice: string): Uint8Array {
  try {
    if (file === '-') return new Uint8Array(readFileSync(0));
    const { size } = statSync(file);
    if (size > most)
      throw new Unusable(
        `${file}: the file has ${size.toLocaleString('en-GB')} bytes; ${what} may have up to ` +
          `${most.toLocaleString('en-GB')}. ${advice}`,
      );
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    if (error instanceof Unusable) throw error;
    throw new Unusable(`${file}: cannot be read (${(error as NodeJS.ErrnoException).code}).`);
  }
}

export function writeOutput(file: string, bytes: Uint8Array, force: boolean) {
  if (existsSync(file) && !force)
    throw new Unusable(`${file}: is there already; --force overwrites it.`);
  // Whole or not at all: what was there before stays until the new bytes are on the disk.
  // What is no file, a pipe or a device, is written to as it is.
  const special = existsSync(file) && !statSync(file).isFile();
  const beside = special ? file : `${file}.part`;
  try {
    makeFolder(dirname(file));
    writeFileSync(beside, bytes);
    if (!special) renameSync(beside, file);
  } catch (error) {
    if (!special) rmSync(beside, { force: true });
    throw new Unusable(
      `${file}: cannot be written (${(error as NodeJS.ErrnoException).code}). It is as it was.`,
    );
  }
}

/** Folder by folder: where one cannot be made this ends with the reason, whatever file system it is. */
function makeFolder(folder: string) {
  const missing: string[] = [];
  let at = resolve(folder);
  while (!existsSync(at) && dirname(at) !== at) {
    missing.unshift(at);
    at = dirname(at);
  }
  for (const path of missing) mkdirSync(path);
}

/** Files of the last delivery into a folder that the new one does not have, by its receipt. */
export function clearStale(folder: string, kept: readonly string[]) {
  let paths: unknown;
  try {
    const receipt = JSON.parse(readFileSync(join(folder, 'receipt.json'), 'utf8')) as {
      files?: readonly { path?: unknown }[];
    };
    paths = receipt.files?.map((f) => f.path);
  } catch {
    return; // Nothing was delivered there, or nothing that says what it was.
  }
  if (!Array.isArray(paths)) return;
  const keep = new Set(kept);
  for (const path of paths as unknown[]) {
    if (typeof path !== 'string' || keep.has(path)) continue;
    const file = resolve(folder, path);
    // What a receipt names is never trusted to lie in its folder.
    if (file.startsWith(resolve(folder) + sep) && existsSync(file) && lstatSync(file).isFile())
      rmSync(file);
  }
}

const japanese = new TextDecoder('shift_jis');
const shiftJis = (bytes: Uint8Array) => japanese.decode(bytes);

/** How a file is opened: under which key, which reading of it, and with whose formats. */
export interface Opening extends Which {
  readonly key?: string;
  readonly target?: Partial<OwnFormats> | undefined;
}

export function open(file: string, how: Opening = {}): { opened: Opened; sha256: string } {
  return openBytes(readInput(file), nameOf(file), how);
}

export const nameOf = (file: string): string => (file === '-' ? 'stdin.mid' : basename(file));

export function openBytes(bytes: Uint8Array, name: string, how: Opening = {}) {
  const hash = sha256(bytes);
  const { formats, seats } = how.target ?? {};
  const own = formats && seats ? { own: [{ formats, seats }] } : {};
  return {
    opened: openSource(bytes, {
      key: how.key ?? 'main',
      name,
      sha256: hash,
      shiftJis,
      ...whichOf(how),
      ...own,
    }),
    sha256: hash,
  };
}

export interface LeftBy {
  readonly key: string;
  readonly reason: string;
}

/** A job that was saved as a file, with the plan that it has for a target (its own active one). */
export function loadJob(file: string, targetId: string | undefined) {
  const unpacked = unpackFiles(readInput(file));
  if (unpacked.problem !== undefined) throw new Unusable(`${file}: ${unpacked.problem}`);
  const main = unpacked.files.get('job.json');
  if (!main) throw new Unusable(`${file}: holds no job.json, so it is not a job.`);
  const { job, problem } = parseJob(new TextDecoder().decode(main));
  if (!job) throw new Unusable(`${file}: ${problem}`);
  return jobWork(file, job, unpacked.files, targetId);
}

/** A job and its files as a piece of work for one of its targets. */
export function jobWork(
  file: string,
  job: JobData,
  files: ReadonlyMap<string, Uint8Array>,
  targetId: string | undefined,
) {
  const wanted = targetId ?? job.activeTarget;
  const plan = job.plans.find((p) => p.targetId === wanted);
  if (!plan)
    throw new Unusable(
      `${file}: the job has no plan for ${wanted}; it has ${job.plans.map((p) => p.targetId).join(', ')}.`,
    );
  const sources = (plan.now.sources ?? job.sources).map((asked) => {
    const { key, name, sha256: hash } = asked;
    const bytes = files.get(sourcePath(hash));
    if (!bytes) throw new Unusable(`${file}: lacks the source ${name}.`);
    const format = files.get(formatPath(hash));
    const own = format ? parseKept(new TextDecoder().decode(format)) : null;
    if (format && !own) throw new Unusable(`${file}: the format of ${name} is not whole.`);
    const { opened, sha256: found } = openBytes(bytes, name, {
      key,
      target: own ?? undefined,
      ...whichOf(asked),
    });
    if (found !== hash)
      throw new Unusable(`${file}: the source ${name} is not the one that the job was made with.`);
    if (!opened.source) throw new Unusable(whyNot(name, opened));
    return opened.source;
  });
  const { steps, uses, leftAsIs } = plan.now;
  return {
    label: file,
    sources,
    sound: job.sound ? soundOf(file, job.sound, files) : null,
    target: plan.target,
    plan: { steps, ...(uses ? { uses } : {}) } as Plan,
    leftAsIs,
  };
}

/** The bytes of the companion sound that a job brings along. */
function soundOf(
  file: string,
  { sha256: hash, name }: NonNullable<JobData['sound']>,
  files: ReadonlyMap<string, Uint8Array>,
): { name: string; bytes: Uint8Array } {
  const bytes = files.get(soundPath(hash));
  if (!bytes) throw new Unusable(`${file}: lacks the sound ${name}.`);
  if (sha256(bytes) !== hash)
    throw new Unusable(`${file}: the sound ${name} is not the one that the job was made with.`);
  return { name, bytes };
}

/** Makes sure at once that files can be written there. */
export function readyFolder(folder: string) {
  try {
    makeFolder(folder);
    accessSync(folder, constants.W_OK);
    if (!statSync(folder).isDirectory()) throw Object.assign(new Error(), { code: 'ENOTDIR' });
  } catch (error) {
    throw new Unusable(
      `${folder}: cannot be written to (${(error as NodeJS.ErrnoException).code}). Name a folder.`,
    );
  }
}

/** Why a source cannot be used: its fatal damage, in one line. */
export const whyNot = (file: string, opened: Opened): string =>
  `${file}: ${sayDamage(opened.damage.find(isFatal) ?? opened.damage[0]!)}`;

export function loadTarget(idOrFile: string): Target {
  const found = findTarget(idOrFile);
  if (found) return found;
  if (!existsSync(idOrFile)) {
    const near = nearest(
      idOrFile,
      builtInTargets.map((t) => t.id),
    );
    throw new Unusable(
      `There is no target or file named ${idOrFile}.${near ? ` The nearest target is ${near}.` : ''}`,
    );
  }
  const { pack, problems } = readTargetPack(readInput(idOrFile));
  if (pack) return pack.target;
  throw new Unusable(`${idOrFile}: ${problems[0]}`);
}

export function loadRecipe(file: string | undefined): Recipe | null {
  if (file === undefined) return null;
  const result = parseRecipe(new TextDecoder().decode(readInput(file)));
  if (result.recipe) return result.recipe;
  throw new Unusable(`${file}: ${result.problem}`);
}

/** Where lines go: the standard streams, or a worker's letter to the main thread. */
export interface Sink {
  out(text: string): void;
  err(text: string): void;
}
let sink: Sink = {
  out: (text) => void process.stdout.write(text),
  err: (text) => void process.stderr.write(text),
};
export const setSink = (next: Sink) => (sink = next);
export const print = (line: string) => sink.out(`${line}\n`);
export const complain = (line: string) => sink.err(`${line}\n`);

/** What was printed of one item, and how it ended: printed in turn by the main thread. */
export interface Printed {
  readonly out: string;
  readonly err: string;
  readonly status: 0 | 1 | 2 | 3;
}
export function printAsIs({ out, err }: Printed) {
  sink.out(out);
  sink.err(err);
}

/** Which of several sequences or songs in a file is meant, from 0. */
export function sequenceOf({ sequence }: { readonly sequence?: string }): number | undefined {
  if (sequence === undefined) return undefined;
  const n = Number(sequence);
  if (!Number.isInteger(n) || n < 1)
    throw new Unusable(`--sequence ${sequence}: sequences are counted from 1.`);
  return n - 1;
}
