import { readdirSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { findFormat, formats } from '../core/formats/index';
import { unpackFiles } from '../core/formats/unpack';
import { nearest } from '../core/diagnostic/say-problems';
import { rehearse, standInOf } from '../core/standin/index';
import { checkFile } from '../core/standin/check';
import type { Complaint, DeliveredFile, Happening, Played } from '../core/standin/played';
import type { Target } from '../core/target/schema';
import { noteName, wordsOf } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import { writeOutputs } from '../core/outputs/index';
import { complain, loadJob, loadTarget, print, readInput, sha256, Unusable } from './files';
import { MANIFEST, parseManifest } from '../core/sets/manifest';
import { songsOnCard } from '../core/sets/on-card';
import { proofOne, worse, type Status } from './proofing';

/** Receipts go with a delivery; no device reads them. */
const RECEIPTS = new Set(['receipt.json', 'receipt.html']);
const MOST_FILES = 2000;

interface Delivery {
  readonly name: string;
  /** The target that it was handed over for, where a manifest says so. */
  readonly target?: string;
  readonly files: readonly DeliveredFile[];
  /** What its receipt says and is not so: files that are missing, changed, or not in it. */
  readonly contradicts?: readonly Complaint[];
}

/** A folder and a pack are a delivery each; files that are named by themselves are one together. */
function deliveriesOf(args: readonly string[]): Delivery[] {
  const out: Delivery[] = [];
  const loose: DeliveredFile[] = [];
  for (const arg of args) {
    if (arg !== '-' && isFolder(arg)) out.push(...foldersIn(arg));
    else if (/\.zip$/i.test(arg)) {
      const { files, problem } = unpackFiles(readInput(arg));
      if (!files) throw new Unusable(`${arg}: ${problem}`);
      const list = [...files].map(([path, bytes]) => ({ path, bytes }));
      out.push(heldAgainstReceipt(arg, list));
    } else loose.push({ path: basename(arg), bytes: readInput(arg) });
  }
  if (loose.length > 0) out.unshift({ name: loose.map((f) => f.path).join(' + '), files: loose });
  return out;
}

function isFolder(path: string): boolean {
  try {
    return statSync(path).isDirectory();
  } catch (error) {
    throw new Unusable(`${path}: cannot be read (${(error as NodeJS.ErrnoException).code}).`);
  }
}

/** A folder that has a receipt is a delivery; one that holds several such folders is as many. */
function foldersIn(folder: string): Delivery[] {
  const all = filesIn(folder);
  const manifest = all.find((f) => f.path === MANIFEST);
  if (manifest) return songsIn(folder, manifest.bytes, all);
  const roots = all
    .filter((f) => f.path === 'receipt.json' || f.path.endsWith('/receipt.json'))
    .map((f) => f.path.slice(0, -'receipt.json'.length));
  if (roots.length <= 1 && (roots[0] ?? '') === '') return [heldAgainstReceipt(folder, all)];
  const rootOf = (path: string) =>
    roots.filter((r) => path.startsWith(r)).sort((a, b) => b.length - a.length)[0];
  const out = roots.map((root) =>
    heldAgainstReceipt(
      join(folder, root),
      all
        .filter((f) => rootOf(f.path) === root)
        .map((f) => ({ ...f, path: f.path.slice(root.length) })),
    ),
  );
  const stray = all.filter((f) => rootOf(f.path) === undefined);
  if (stray.length > 0) out.push({ name: folder, files: stray });
  return out;
}

/** A folder that a set was handed over into: each song is a delivery. */
function songsIn(folder: string, manifest: Uint8Array, all: readonly DeliveredFile[]): Delivery[] {
  const read = parseManifest(manifest);
  if (!read.manifest) throw new Unusable(`${folder}: ${read.problem}`);
  const files = new Map(all.map((f) => [f.path, f.bytes]));
  const hashes = new Map(all.map((f) => [f.path, sha256(f.bytes)]));
  return songsOnCard(read.manifest, files, hashes).map(({ title, ...song }) => ({
    name: `${folder}: ${title}`,
    ...song,
  }));
}

/** The files of a delivery without its receipt, and what that says otherwise. */
function heldAgainstReceipt(name: string, all: readonly DeliveredFile[]): Delivery {
  const files = all.filter((f) => !RECEIPTS.has(f.path));
  const receipt = all.find((f) => f.path === 'receipt.json');
  if (!receipt) return { name, files };
  const contradicts: Complaint[] = [];
  const no = (file: string, at: string, says: string) =>
    contradicts.push({ file, at, says, block: null });
  let listed: readonly { path: string; sha256: string }[] = [];
  try {
    const { files: list } = JSON.parse(new TextDecoder().decode(receipt.bytes)) as {
      files: { path: string; sha256: string }[];
    };
    listed = list.map((f) => ({ path: String(f.path), sha256: String(f.sha256) }));
  } catch {
    no('receipt.json', 'the whole file', 'It cannot be read: what belongs here is not known.');
    return { name, files, contradicts };
  }
  for (const { path, sha256: hash } of listed) {
    const file = files.find((f) => f.path === path);
    if (!file) no(path, 'folder', 'The receipt lists it, and it is not there.');
    else if (sha256(file.bytes) !== hash)
      no(path, 'bytes', 'It is not the file that was handed over.');
  }
  for (const { path } of files)
    if (!listed.some((l) => l.path === path)) no(path, 'folder', 'The receipt does not list it.');
  return { name, files, contradicts };
}

function filesIn(folder: string, within = ''): DeliveredFile[] {
  const out: DeliveredFile[] = [];
  const entries = readdirSync(join(folder, within), { withFileTypes: true });
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const path = within === '' ? entry.name : `${within}/${entry.name}`;
    if (entry.isDirectory()) out.push(...filesIn(folder, path));
    else if (entry.isFile()) out.push({ path, bytes: readInput(join(folder, path)) });
    if (out.length > MOST_FILES)
      throw new Unusable(
        `${folder}: more than ${MOST_FILES} files; name the folder of one delivery.`,
      );
  }
  return out;
}

export interface RehearseOptions {
  target?: string;
  /** A job in the place of what it would deliver; it brings its target. */
  job?: string;
  json?: boolean;
  /** A stretch by the clock: seconds, or minutes:seconds. */
  from?: string;
  to?: string;
  seat?: string[];
  watch?: boolean;
}

/** What the target's device would do with delivered files; 1 where it refuses or drops anything. */
export function rehearseFiles(args: string[], options: RehearseOptions): Status | Promise<Status> {
  const { job } = options;
  if (job !== undefined && args.length > 0) throw new Unusable('Give files or --job, not both.');
  if (job === undefined && args.length === 0)
    throw new Unusable('Name what is delivered, or a job with --job.');
  if (job === undefined && options.target === undefined)
    throw new Unusable('A target is needed: --target with the id of one, or with a target file.');
  const target =
    job === undefined ? loadTarget(options.target!) : loadJob(job, options.target).target;
  const standIn = standInOf(target);
  if (!standIn) throw new Unusable(`No stand-in is there for ${target.name}.`);
  const only = partOf(target, options);
  const once = (): Status => {
    let status: Status = 0;
    const all = job === undefined ? deliveriesOf(args) : [deliveryOf(job, options.target)];
    for (const { name, files, contradicts = [], target: madeFor } of all) {
      if (madeFor !== undefined && madeFor !== target.id) {
        complain(`${name}: is for ${madeFor}, and is not rehearsed for ${target.name}.`);
        continue;
      }
      const heard = only(rehearse(files, target));
      const played = { ...heard, refused: [...contradicts, ...heard.refused] };
      if (options.json)
        print(JSON.stringify({ delivery: name, ...playedJson(played, target, standIn.id) }));
      else say(name, played, target, standIn.name);
      if (played.refused.length + played.dropped.length > 0) status = worse(status, 1);
    }
    return status;
  };
  return options.watch ? again(job === undefined ? args : [job], once) : once();
}

/** What a job would hand over now; the recording beside it is no part of what is played. */
function deliveryOf(job: string, to: string | undefined): Delivery {
  const work = { ...loadJob(job, to), sound: null };
  const { run } = proofOne(work, work.plan);
  const outputs = work.target.outputs.filter((o) => o.writer !== 'sound');
  return { name: job, files: writeOutputs(run.rendition, { ...work.target, outputs }).files };
}

/** `12.5`, `1:02.5`: microseconds. */
function clockUs(text: string, option: string): number {
  const [, minutes = '0', seconds] = /^(?:(\d+):)?(\d+(?:\.\d+)?)$/.exec(text) ?? [];
  if (seconds === undefined)
    throw new Unusable(`${option} ${text}: a clock time is wanted, such as 12.5 or 1:02.5.`);
  return (Number(minutes) * 60 + Number(seconds)) * 1_000_000;
}

/** What of it is told: a stretch, some seats. What the device refuses is told in any case. */
function partOf(target: Target, { from, to, seat = [] }: RehearseOptions) {
  const first = from === undefined ? -Infinity : clockUs(from, '--from');
  const last = to === undefined ? Infinity : clockUs(to, '--to');
  if (last <= first) throw new Unusable(`--to ${to}: it has to stand behind --from ${from}.`);
  const ids = seat.map((name) => {
    const there = target.seats.find((s) => s.id === name || s.name === name);
    // Games listen for names that no target lists.
    if (there || target.seats.length === 0) return there?.id ?? name;
    const names = target.seats.map((s) => s.id);
    const near = nearest(name, names);
    throw new Unusable(
      `--seat ${name}: ${target.name} has no such seat.${near ? ` The nearest is ${near}.` : ''}`,
    );
  });
  const mine = (id: string) => ids.length === 0 || ids.includes(id);
  return (played: Played): Played => ({
    ...played,
    events: played.events.filter(
      (e) =>
        mine(e.seat) && e.atUs < last && (e.atUs >= first || e.atUs + (e.lengthUs ?? 0) > first),
    ),
    dropped: played.dropped.filter((d) => mine(d.seat) && d.atUs >= first && d.atUs < last),
  });
}

const LOOK_MS = 250;

/** Rehearses again whenever a file has changed and is at rest, until it is interrupted. */
async function again(args: readonly string[], once: () => Status): Promise<Status> {
  let ended = false;
  const end = () => void (ended = true);
  process.once('SIGINT', end);
  process.once('SIGTERM', end);
  let status: Status = 0;
  let told = '';
  let before = '';
  while (!ended) {
    const now = stateOf(args);
    // A file that is being written is not at rest: it is looked at once more.
    if (now !== told && now === before) {
      told = now;
      try {
        status = once();
      } catch (error) {
        if (!(error instanceof Unusable)) throw error;
        complain(error.message);
        status = 2;
      }
    }
    before = now;
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
  return status;
}

/** Names, sizes and times of all files that are meant. */
function stateOf(args: readonly string[]): string {
  const of = (path: string): string => {
    try {
      const s = statSync(path);
      if (!s.isDirectory()) return `${path} ${s.size} ${s.mtimeMs}`;
      return readdirSync(path)
        .sort()
        .map((name) => of(join(path, name)))
        .join('\n');
    } catch {
      return `${path} is not there`;
    }
  };
  return args.map(of).join('\n');
}

const playedJson = (played: Played, target: Target, standIn: string) => ({
  target: target.id,
  standIn,
  lengthMs: played.lengthUs / 1000,
  events: played.events.map((e) => ({
    atMs: e.atUs / 1000,
    lengthMs: e.lengthUs === undefined ? null : e.lengthUs / 1000,
    kind: e.kind,
    seat: e.seat,
    key: e.key,
    value: e.value ?? null,
    text: e.text ?? null,
    file: e.file,
  })),
  refused: played.refused.map(({ file, at, says }) => ({ file, at, says })),
  dropped: played.dropped.map((d) => ({
    atMs: d.atUs / 1000,
    seat: d.seat,
    key: d.key,
    file: d.file,
    because: d.because,
    altered: d.how === 'altered',
  })),
});

function say(name: string, played: Played, target: Target, standIn: string) {
  print(`${name} → ${target.name} (${standIn})`);
  for (const e of played.events) print(`  ${sayHappening(e, target)}`);
  for (const c of played.refused) print(`  refused  ${c.file || name}, ${c.at}: ${c.says}`);
  for (const d of played.dropped)
    print(
      `  ${d.how === 'silent' ? 'dropped' : 'altered'}  ${sayClock(d.atUs / 1000)} ${d.seat} ${d.key < 0 ? '' : `key ${d.key} `}(${d.file}): ${d.because}`,
    );
  const n = played.events.length;
  print(
    `  ${n.toLocaleString('en-GB')} played, ${played.dropped.length} dropped or altered, ${played.refused.length} refused`,
  );
}

/** `0:05.625 cue 12 of cue-line 0.4 s`. */
export function sayHappening(e: Happening, target: Target): string {
  const words = wordsOf(target);
  const what: Record<Happening['kind'], string> = {
    note: `${words.note} ${noteName(Math.max(0, Math.min(127, e.key)))}`,
    strike: `${words.note} lane ${e.key}`,
    // Cues are numbered where the target has a range of them.
    cue:
      target.notes?.lowest === undefined
        ? words.note
        : `${words.note} ${e.key - target.notes.lowest + 1}`,
    caption: `caption ${e.key}`,
    hole: `hole ${noteName(Math.max(0, Math.min(127, e.key)))}`,
    'cue-value': `cue ${e.value ?? ''}`.trim(),
    tempo: `tempo ${Math.round(60_000_000_000 / Number(e.value)) / 1000} BPM`,
    marker: `marker, bar ${e.key}`,
    pattern: `pattern ${e.text}`,
    preset: `preset ${Number(e.value)}.${e.key}`,
    level: `${e.key > 127 ? 'bend' : `controller ${e.key}`} at ${e.value}`,
  };
  const text = e.text && e.kind !== 'pattern' ? ` “${e.text.replaceAll('\n', ' / ')}”` : '';
  const length = e.lengthUs ? ` ${Math.round(e.lengthUs / 1000) / 1000} s` : '';
  return `${sayClock(e.atUs / 1000)} ${what[e.kind]} of ${e.seat}${text}${length}`;
}

export interface CheckOptions {
  format: string;
  json?: boolean;
}

/** Whether files are of one of our formats; each fault with its place. */
export function checkFiles(files: string[], options: CheckOptions): Status {
  const format = findFormat(options.format);
  if (!format) {
    const near = nearest(
      options.format,
      formats.map((f) => f.id),
    );
    throw new Unusable(
      `There is no format named ${options.format}.${near ? ` The nearest is ${near}.` : ''}`,
    );
  }
  let status: Status = 0;
  for (const file of files) {
    const problems = checkFile(format, { path: basename(file), bytes: readInput(file) });
    if (options.json) print(JSON.stringify({ file, format: format.id, problems }));
    else if (problems.length === 0) print(`${file}: is as the format ${format.id} has it.`);
    for (const p of options.json ? [] : problems)
      complain(`${file}: ${p.path ? `${p.path}: ` : ''}${p.says}`);
    if (problems.length > 0) status = worse(status, 2);
  }
  return status;
}
