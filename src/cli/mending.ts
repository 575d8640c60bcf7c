import { join } from 'node:path';
import type { OutputFile } from '../core/outputs/define-writer';
import { safeName } from '../core/outputs/define-writer';
import type { Receipt } from '../core/handover/receipt';
import type { Rehearsal } from '../core/handover/rehearsal';
import { handOver } from '../core/handover/hand-over';
import { baseOf } from '../core/plan/base';
import { mendMany, type Applied, type MendReach } from '../core/plan/mend';
import { runPlan } from '../core/plan/run';
import { routeTo } from '../core/rules/seats/route-to';
import type { PlanStep } from '../core/plan/plan';
import type { Finding } from '../core/rules/finding';
import { sayFigures } from '../core/compare/say-figures';
import { tallyOf } from '../core/rules/proof';
import { roundMs } from '../core/score/inventory';
import { stemOf } from '../core/smf/name';
import { soundFacts, type BroughtSound } from './sounds';
import { comparePieces } from '../core/compare/by-id';
import { nearest } from '../core/diagnostic/say-problems';
import { METADATA_KEYS } from '../core/score/piece';
import type { Target } from '../core/target/schema';
import { count } from '../core/target/words';
import {
  clearStale,
  complain,
  loadRecipe,
  loadTarget,
  nameOf,
  print,
  printAsIs,
  readyFolder,
  sha256,
  Unusable,
  writeOutput,
  type Printed,
} from './files';
import { inPool, MANY_FILES } from './pool';
import { existsSync } from 'node:fs';
import {
  each,
  findingsJson,
  openStops,
  proofOne,
  sayProof,
  worse,
  type Proofed,
  type ProofOptions,
  type Status,
  type Work,
} from './proofing';

export interface MendOptions extends ProofOptions {
  out?: string;
  losslessOnly?: boolean;
  mayDrop?: string;
  choose?: string[];
  accept?: boolean;
  set?: string[];
  force?: boolean;
}

/** What will be written for one piece of work, before the first byte of any is. */
interface Made {
  readonly work: Work;
  /** With what the call says, before any mend. */
  readonly start: Proofed;
  readonly done: Proofed;
  readonly applied: readonly Applied[];
  readonly choices: readonly Finding[];
  readonly notTaken: ReadonlyMap<string, string>;
  readonly folder: string;
  readonly files: readonly OutputFile[];
  readonly receipt: Receipt;
  readonly unwritten: readonly string[];
  readonly rehearsal: Rehearsal;
}

/**
 * Mends and hands over. One layout whatever the count: under --out a folder for each piece of work,
 * named after its file; where two have one name the later is numbered. All is checked before the
 * first byte is written.
 */
export async function mendFiles(files: string[], options: MendOptions): Promise<Status> {
  const { out } = options;
  if (out === undefined) throw new Unusable('A folder is needed: --out with where the files go.');
  readyFolder(out);
  const folders = new Set<string>();
  const alone = !options.together && options.job === undefined && !files.includes('-');
  if (alone && files.length >= MANY_FILES) return mendMuch(files, options, out);
  const all: Made[] = [];
  let status = await each(files, options, async (work): Promise<Status> => {
    all.push(await make(work, options, folderFor(out, work, folders)));
    return 0;
  });
  refuseTaken(all, options);
  for (const made of all) {
    writeMade(made, options);
    status = worse(status, report(made, options));
  }
  return status;
}

/** What a worker made of one file: all is written by the main thread, in the order of the files. */
export interface MadeElsewhere extends Printed {
  readonly folder: string;
  readonly files: readonly OutputFile[];
}

/** One file, made and reported, and not written. */
export async function makeOne(
  file: string,
  folder: string,
  options: MendOptions,
  sound: Promise<BroughtSound | null>,
): Promise<{ status: Status; files: readonly OutputFile[] }> {
  let files: readonly OutputFile[] = [];
  const one = async (work: Work): Promise<Status> => {
    const made = await make(work, options, folder);
    files = made.files;
    return report(made, options);
  };
  const status = await each([file], options, one, sound);
  return { status, files };
}

/** Many files, on all cores. */
async function mendMuch(files: string[], options: MendOptions, out: string): Promise<Status> {
  // What cannot be used of the call itself is said once, not by every worker.
  if (options.target === undefined)
    throw new Unusable('A target is needed: --target with the id of one, or with a target file.');
  loadTarget(options.target);
  loadRecipe(options.recipe);
  reachOf(options);
  const folders = new Set<string>();
  const items = files.map((file) => ({ file, folder: folderNamed(out, nameOf(file), folders) }));
  const all: MadeElsewhere[] = [];
  await inPool<(typeof items)[number], MadeElsewhere>('mend', options, items, (made) =>
    all.push(made),
  );
  refuseTaken(all, options);
  let status: Status = 0;
  for (const made of all) {
    writeMade(made, options);
    printAsIs(made);
    status = worse(status, made.status);
  }
  return status;
}

type Writable = Pick<Made, 'folder' | 'files'>;

function refuseTaken(all: readonly Writable[], { force }: MendOptions) {
  const taken = all.flatMap((m) => m.files.map((f) => join(m.folder, f.path)));
  const there = force ? undefined : taken.find((path) => existsSync(path));
  if (there !== undefined)
    throw new Unusable(`${there}: is there already; nothing was written. --force overwrites it.`);
}

export function writeMade({ folder, files }: Writable, { force }: MendOptions) {
  if (force)
    clearStale(
      folder,
      files.map((f) => f.path),
    );
  for (const f of files) writeOutput(join(folder, f.path), f.bytes, true);
}

function folderFor(out: string, { sources, label }: Work, folders: Set<string>): string {
  // Standard input has no name of its own, and several files have that of the first.
  const own = sources.length === 1 && label !== '-' ? label.split(/[/\\]/).at(-1)! : '';
  return folderNamed(out, own || sources[0]!.name, folders);
}

function folderNamed(out: string, file: string, folders: Set<string>): string {
  const name = safeName(stemOf(file)).replace(/\.quilljob$/i, '');
  let folder = join(out, name);
  for (let n = 2; folders.has(folder.toLowerCase()); n++) folder = join(out, `${name}-${n}`);
  folders.add(folder.toLowerCase());
  return folder;
}

async function make(work: Work, options: MendOptions, folder: string): Promise<Made> {
  const { target, leftAsIs, sound } = work;
  const facts = soundFacts(sound);
  const seated = [
    ...toldSteps(options.set ?? [], work.target),
    ...chosenSteps(work, options.choose ?? []),
  ];
  const begun = { ...work.plan, steps: [...work.plan.steps, ...seated] };
  const start = proofOne(work, begun);
  const mended = mendMany({
    rendition: start.run.rendition,
    target,
    base: start.base,
    ...reachOf(options),
    accept: options.accept === true,
    leftAsIs,
    ...facts,
  });
  const steps: PlanStep[] = [
    ...begun.steps,
    ...mended.applied.flatMap((a, i) =>
      a.steps.map((s, k): PlanStep => ({ ...s, key: `mend-${i + 1}-${k + 1}` })),
    ),
  ];
  const plan = { ...work.plan, steps };
  const done = proofOne(work, plan);
  const { files, receipt, unwritten, rehearsal } = await handOver({
    job: work.sources[0]!.name,
    handover: null,
    base: done.base,
    target,
    plan,
    run: done.run,
    findings: done.findings,
    leftAsIs,
    ...facts,
    sound,
    sha256: async (bytes) => sha256(bytes),
  });
  return {
    work,
    start,
    done,
    applied: mended.applied,
    choices: mended.choices,
    notTaken: mended.notTaken,
    folder,
    files,
    receipt,
    unwritten,
    rehearsal,
  };
}

/** How far mends may go: all that keeps every note, unless something else is said. */
function reachOf({ losslessOnly, mayDrop }: MendOptions): { reach: MendReach; mayDrop?: number } {
  if (losslessOnly && mayDrop !== undefined)
    throw new Unusable('--lossless-only and --may-drop are two ways; choose one.');
  if (losslessOnly) return { reach: 'lossless' };
  if (mayDrop === undefined) return { reach: 'keep' };
  const share = /^(\d+(?:\.\d+)?)\s*%$/.exec(mayDrop.trim());
  const percent = Number(share?.[1]);
  if (!share || percent > 100)
    throw new Unusable(`--may-drop ${mayDrop}: give a share of the notes, such as 5%.`);
  return { reach: 'drop', mayDrop: percent / 100 };
}

/** What the target is told, as one step: facts that the desk knows, and those the target names. */
function toldSteps(set: readonly string[], target: Target): PlanStep[] {
  if (set.length === 0) return [];
  const named = (target.metadata?.required ?? []).map((f) => f.key);
  const all = [...new Set([...METADATA_KEYS, ...named])];
  const params: Record<string, string> = {};
  const own: { key: string; value: string }[] = [];
  for (const said of set) {
    const at = said.indexOf('=');
    const key = said.slice(0, Math.max(0, at)).trim();
    if (!all.includes(key)) {
      const hint = nearest(key, all);
      throw new Unusable(
        `--set ${said}: ${key === '' ? 'a key and a value are needed' : `there is no “${key}”`}. ` +
          (hint ? `The nearest is ${hint}.` : `There are ${all.join(', ')}.`),
      );
    }
    const value = said.slice(at + 1);
    if ((METADATA_KEYS as readonly string[]).includes(key)) params[key] = value;
    else own.push({ key, value });
  }
  const told = own.length > 0 ? { ...params, own } : params;
  return [{ key: 'set', step: 'metadata', params: told, scope: {}, on: true }];
}

/** The steps that seat parts as the call says. */
function chosenSteps({ sources, target, plan }: Work, choose: readonly string[]): PlanStep[] {
  const { pieces } = runPlan({ base: baseOf(sources, plan.uses), target, plan }).rendition;
  const parts = pieces.flatMap((p) => p.score.parts).filter((p) => p.notes.count > 0);
  const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();
  return choose.map((said, i) => {
    const at = said.indexOf('=');
    if (at < 1)
      throw new Unusable(`--choose ${said}: say a seat and a part, such as --choose lead=Melody.`);
    const [seatName, partName] = [said.slice(0, at), said.slice(at + 1)];
    const seat = target.seats.find((s) => same(s.id, seatName) || same(s.name, seatName));
    if (!seat)
      throw new Unusable(
        `--choose ${said}: ${target.name} has no seat “${seatName}”. Its seats: ${target.seats.map((s) => s.id).join(', ') || 'none'}.`,
      );
    const part = parts.find((p) => same(p.name, partName));
    if (!part)
      throw new Unusable(
        `--choose ${said}: there is no part “${partName}”. Parts: ${[...new Set(parts.map((p) => p.name))].slice(0, 20).join(', ')}.`,
      );
    const params = routeTo(seat);
    return {
      key: `choose-${i + 1}`,
      step: 'route',
      params,
      scope: { parts: [part.ref] },
      on: true,
    };
  });
}

const sayFile = (f: Receipt['files'][number]): string =>
  [
    f.readBack === 'not read' ? '' : `read back: ${f.readBack}`,
    f.complaints.length > 0 ? `not loaded: ${f.complaints[0]}` : f.plays && `plays ${f.plays}`,
  ]
    .filter(Boolean)
    .join('; ') || 'written';

function sayRehearsal({ standIn, asMeant, lost }: Receipt['rehearsed']): string {
  if (standIn === null) return 'rehearsed: no stand-in is there for this target.';
  if (asMeant) return `rehearsed: ${standIn}: loaded, and plays as meant.`;
  const gone = lost.map((l) => `${l.notes} ${l.altered ? 'different' : 'silent'}: ${l.because}`);
  return `rehearsed: ${standIn}: not as meant. ${gone.slice(0, 5).join('; ')}`.trim();
}

function report(made: Made, options: MendOptions): Status {
  const { work, done, applied, choices, folder, receipt, unwritten, rehearsal } = made;
  if (options.json)
    print(
      JSON.stringify({
        file: work.label,
        sha256: work.sources[0]!.sha256,
        target: work.target.id,
        folder,
        applied: applied.map(({ finding, title, lossless, shiftMs, notesDropped, says }) => ({
          finding,
          title,
          lossless,
          shiftMs: roundMs(shiftMs),
          drops: notesDropped,
          says,
        })),
        findings: findingsJson(work, done),
        tally: tallyOf(done.findings, work.leftAsIs),
        music: receipt.music,
        files: receipt.files,
        unwritten,
        rehearsed: receipt.rehearsed,
      }),
    );
  else {
    for (const a of applied)
      print(`applied: ${a.title} (${a.lossless ? 'the music stays as it is; ' : ''}${a.says})`);
    for (const f of receipt.files) print(`wrote ${join(folder, f.path)} (${sayFile(f)})`);
    const music = sayFigures(receipt.music);
    if (music !== '') print(`music: ${music}`);
    print(sayRehearsal(receipt.rehearsed));
    sayProof(work, done);
    for (const c of choices) print(`  to choose: ${c.choice} ${sayWay(c, made.notTaken)}`);
  }
  for (const u of rehearsal.unexplained)
    complain(`${work.label}: the writer and the stand-in disagree, and no finding says why. ${u}`);
  const differs = receipt.files.some((f) => f.readBack === 'differs');
  if (differs)
    complain(`${work.label}: what was read back differs from what was meant; see the receipt.`);
  if (unwritten.length > 0)
    complain(
      `${work.label}: ${work.target.name} also takes ${unwritten.join(', ')}, which no writer is for.`,
    );
  const beyond = beyondDrop(made, options);
  if (beyond) complain(`${work.label}: ${beyond}`);
  if (rehearsal.unexplained.length > 0) return 3;
  return differs ||
    unwritten.length > 0 ||
    beyond !== null ||
    openStops(done.findings, work.leftAsIs)
    ? 1
    : 0;
}

/** How a choice that is open can be made. */
function sayWay({ key }: Finding, notTaken: ReadonlyMap<string, string>): string {
  const why = notTaken.get(key);
  return why === undefined
    ? 'With --choose SEAT=PART, or --accept for the likeliest.'
    : `--accept took none (${why}). With --choose SEAT=PART.`;
}

/** More notes of those that were seated are gone than were to be dropped; null where not. */
function beyondDrop({ start, done }: Made, options: MendOptions): string | null {
  const { mayDrop } = reachOf(options);
  if (mayDrop === undefined) return null;
  const { dropped, notesBefore } = comparePieces(
    start.run.rendition.pieces,
    done.run.rendition.pieces,
  );
  if (dropped <= mayDrop * notesBefore) return null;
  return (
    `${dropped.toLocaleString('en-GB')} of ${count(notesBefore, 'note')} are not delivered, ` +
    `more than --may-drop ${options.mayDrop} allows.`
  );
}
