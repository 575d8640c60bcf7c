import { join } from 'node:path';
import type { OutputFile } from '../core/outputs/define-writer';
import { safeName } from '../core/outputs/define-writer';
import type { Receipt } from '../core/outputs/receipt';
import { handOver } from '../core/plan/hand-over';
import { mendMany, type Applied } from '../core/plan/mend';
import type { PlanStep } from '../core/plan/plan';
import { tallyOf } from '../core/rules/proof';
import { stemOf } from '../core/smf/name';
import { complain, loadSoundMs, print, readyFolder, sha256, Unusable, writeOutput } from './files';
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
  force?: boolean;
}

/** What will be written for one piece of work, before the first byte of any is. */
interface Made {
  readonly work: Work;
  readonly done: Proofed;
  readonly applied: readonly Applied[];
  readonly folder: string;
  readonly files: readonly OutputFile[];
  readonly receipt: Receipt;
  readonly unwritten: readonly string[];
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
  const soundMs = loadSoundMs(options.sound);
  const all: Made[] = [];
  const folders = new Set<string>();
  let status = await each(files, options, async (work): Promise<Status> => {
    all.push(await make(work, options, soundMs, folderFor(out, work, folders)));
    return 0;
  });
  const taken = all.flatMap((m) => m.files.map((f) => join(m.folder, f.path)));
  const there = options.force ? undefined : taken.find((path) => existsSync(path));
  if (there !== undefined)
    throw new Unusable(`${there}: is there already; nothing was written. --force overwrites it.`);
  for (const made of all) {
    for (const f of made.files) writeOutput(join(made.folder, f.path), f.bytes, true);
    status = worse(status, report(made, options));
  }
  return status;
}

function folderFor(out: string, { sources, label }: Work, folders: Set<string>): string {
  const stem = safeName(
    stemOf(sources.length > 1 ? sources[0]!.name : label.split(/[/\\]/).at(-1)!),
  );
  const name = stem.replace(/\.quilljob$/i, '');
  let folder = join(out, name);
  for (let n = 2; folders.has(folder.toLowerCase()); n++) folder = join(out, `${name}-${n}`);
  folders.add(folder.toLowerCase());
  return folder;
}

async function make(
  work: Work,
  options: MendOptions,
  soundMs: number | null,
  folder: string,
): Promise<Made> {
  const { target, leftAsIs } = work;
  const start = proofOne(work, work.plan, soundMs);
  const sound = soundMs === null ? {} : { recordingMs: soundMs };
  const mended = mendMany({
    rendition: start.run.rendition,
    target,
    base: start.base,
    reach: options.losslessOnly ? 'lossless' : 'keep',
    leftAsIs,
    ...sound,
  });
  const steps: PlanStep[] = [
    ...work.plan.steps,
    ...mended.applied.flatMap((a, i) =>
      a.steps.map((s, k): PlanStep => ({ ...s, key: `mend-${i + 1}-${k + 1}` })),
    ),
  ];
  const plan = { ...work.plan, steps };
  const done = proofOne(work, plan, soundMs);
  const { files, receipt, unwritten } = await handOver({
    job: work.sources[0]!.name,
    handover: null,
    base: done.base,
    target,
    plan,
    run: done.run,
    findings: done.findings,
    leftAsIs,
    ...sound,
    sha256: async (bytes) => sha256(bytes),
  });
  return { work, done, applied: mended.applied, folder, files, receipt, unwritten };
}

function report(made: Made, options: MendOptions): Status {
  const { work, done, applied, folder, receipt, unwritten } = made;
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
          shiftMs,
          drops: notesDropped,
          says,
        })),
        findings: findingsJson(work, done),
        tally: tallyOf(done.findings, work.leftAsIs),
        files: receipt.files,
        unwritten,
      }),
    );
  else {
    for (const a of applied)
      print(`applied: ${a.title} (${a.lossless ? 'the music stays as it is; ' : ''}${a.says})`);
    for (const f of receipt.files)
      print(`wrote ${join(folder, f.path)} (read back: ${f.readBack})`);
    sayProof(work, done);
  }
  const differs = receipt.files.some((f) => f.readBack === 'differs');
  if (differs)
    complain(`${work.label}: what was read back differs from what was meant; see the receipt.`);
  if (unwritten.length > 0)
    complain(
      `${work.label}: ${work.target.name} also takes ${unwritten.join(', ')}, which this version does not write yet.`,
    );
  return differs || unwritten.length > 0 || openStops(done.findings, work.leftAsIs) ? 1 : 0;
}
