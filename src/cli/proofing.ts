import { join } from 'node:path';
import type { Finding } from '../core/diagnostic/finding';
import { sayDamage } from '../core/diagnostic/damage';
import { handOver } from '../core/outputs/handover';
import { mendMany } from '../core/plan/mend';
import {
  EMPTY_PLAN,
  type Plan,
  type PlanStep,
  type Recipe,
  type SourceScore,
} from '../core/plan/model';
import { lazyIndex, runPlan, type PlanRun } from '../core/plan/run';
import { safeName } from '../core/outputs/define-writer';
import { proof, tallyOf } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import { inventoryOf, mapsOf } from '../core/score/inventory';
import type { Target } from '../core/target/schema';
import { count } from '../core/target/words';
import {
  complain,
  loadRecipe,
  loadSoundMs,
  loadTarget,
  open,
  print,
  sha256,
  Unusable,
  whyNot,
  writeOutput,
} from './files';
import { damageJson, findingJson, inventoryJson } from './json';

export interface ProofOptions {
  target: string;
  recipe?: string;
  sound?: string;
  json?: boolean;
}

interface Proofed {
  source: SourceScore;
  run: PlanRun;
  findings: Finding[];
}

function proofOne(
  source: SourceScore,
  target: Target,
  plan: Plan,
  recordingMs: number | null,
): Proofed {
  const run = runPlan({ source, target, plan });
  const sound = recordingMs === null ? {} : { recordingMs };
  const findings = proof({ rendition: run.rendition, target, source, ...sound });
  for (const [i, outcome] of run.outcomes.entries())
    if (outcome.refused !== null)
      complain(`${source.name}: step ${i + 1} of the recipe did nothing. ${outcome.refused}`);
  return { source, run, findings };
}

const openStops = (findings: readonly Finding[], recipe: Recipe | null) =>
  tallyOf(findings, recipe?.leftAsIs).stops > 0;

type Status = 0 | 1 | 2;
const worse = (a: Status, b: Status): Status => (a > b ? a : b);

/** Runs `one` on each file; what cannot be used is said, and the others are still done. */
async function each(
  files: string[],
  json: boolean,
  one: (file: string, source: SourceScore) => Promise<Status>,
): Promise<Status> {
  let status: Status = 0;
  for (const file of files) {
    try {
      const { opened, sha256: hash } = open(file);
      if (!opened.source) {
        complain(whyNot(file, opened));
        if (json)
          print(JSON.stringify({ file, sha256: hash, damage: opened.damage.map(damageJson) }));
        status = 2;
        continue;
      }
      status = worse(status, await one(file, opened.source));
    } catch (error) {
      if (!(error instanceof Unusable)) throw error;
      complain(error.message);
      status = 2;
    }
  }
  return status;
}

export function proofFiles(files: string[], options: ProofOptions): Promise<Status> {
  const target = loadTarget(options.target);
  const recipe = loadRecipe(options.recipe);
  const plan = recipe?.plan ?? EMPTY_PLAN;
  const soundMs = loadSoundMs(options.sound);
  return each(files, options.json === true, async (file, source) => {
    const { run, findings } = proofOne(source, target, plan, soundMs);
    if (options.json) print(JSON.stringify(proofJson(file, source, target, run, findings, recipe)));
    else sayProof(file, source, target, run, findings, recipe);
    return openStops(findings, recipe) ? 1 : 0;
  });
}

function proofJson(
  file: string,
  source: SourceScore,
  target: Target,
  run: PlanRun,
  findings: readonly Finding[],
  recipe: Recipe | null,
) {
  const notes = lazyIndex(source);
  return {
    file,
    sha256: source.sha256,
    damage: source.damage.map(damageJson),
    inventory: inventoryJson(inventoryOf(source.head, source.score)),
    target: target.id,
    findings: findings.map((f) => findingJson(f, target, run.rendition, notes)),
    tally: tallyOf(findings, recipe?.leftAsIs),
  };
}

function sayProof(
  file: string,
  source: SourceScore,
  target: Target,
  run: PlanRun,
  findings: readonly Finding[],
  recipe: Recipe | null,
) {
  const { pieces } = run.rendition;
  const maps = pieces.map((p) => mapsOf(p.score));
  const left = new Map(recipe?.leftAsIs.map((l) => [l.key, l.reason]));
  const tally = tallyOf(findings, recipe?.leftAsIs);
  print(
    `${file} → ${target.name}: ${count(tally.stops, 'stop')}, ${count(tally.cautions, 'caution')}, ${count(tally.remarks, 'remark')}`,
  );
  for (const d of source.damage) print(`  damage   ${sayDamage(d)}`);
  findings.forEach((f, i) => {
    const { title, wrong, then, where } = sayFinding(f, target, maps[f.piece ?? 0]!);
    print(
      `  ${String(i + 1).padStart(2)} ${f.severity.padEnd(8)} ${title} (${sayFile(f, pieces)}${where})`,
    );
    print(`     ${wrong} ${then}`);
    const reason = left.get(f.key);
    if (reason !== undefined) print(`     left as is: ${reason}`);
    else for (const m of f.mends) print(`     → ${m.title}`);
  });
}

const sayFile = ({ piece }: Finding, pieces: PlanRun['rendition']['pieces']) =>
  piece === undefined ? '' : `${pieces[piece]!.delivery.fileName}: `;

interface MendOptions extends ProofOptions {
  out: string;
  losslessOnly?: boolean;
  force?: boolean;
}

export function mendFiles(files: string[], options: MendOptions): Promise<Status> {
  const target = loadTarget(options.target);
  const recipe = loadRecipe(options.recipe);
  const leftAsIs = recipe?.leftAsIs ?? [];
  const soundMs = loadSoundMs(options.sound);
  return each(files, options.json === true, async (file, source) => {
    const start = proofOne(source, target, recipe?.plan ?? EMPTY_PLAN, soundMs);
    const mended = mendMany({
      rendition: start.run.rendition,
      target,
      source,
      losslessOnly: options.losslessOnly === true,
      leftAsIs,
      ...(soundMs === null ? {} : { recordingMs: soundMs }),
    });
    const steps: PlanStep[] = [
      ...(recipe?.plan.steps ?? []),
      ...mended.applied.flatMap((a, i) =>
        a.steps.map((s, k): PlanStep => ({ ...s, key: `mend-${i + 1}-${k + 1}` })),
      ),
    ];
    const plan = { steps };
    const { run, findings } = proofOne(source, target, plan, soundMs);
    const { files: written, receipt } = await handOver({
      job: source.name,
      handover: null,
      source,
      target,
      plan,
      run,
      findings,
      leftAsIs,
      sha256: async (bytes) => sha256(bytes),
    });
    // Several sources share a folder: each has its own, so that receipts do not meet.
    const folder =
      files.length > 1
        ? join(options.out, safeName(source.name).replace(/\.[^.]*$/, ''))
        : options.out;
    for (const f of written) writeOutput(join(folder, f.path), f.bytes, options.force === true);
    const tally = tallyOf(findings, leftAsIs);
    if (options.json) {
      const notes = lazyIndex(source);
      print(
        JSON.stringify({
          file,
          sha256: source.sha256,
          target: target.id,
          applied: mended.applied.map(({ finding, title, lossless, shiftMs, says }) => ({
            finding,
            title,
            lossless,
            shiftMs,
            says,
          })),
          findings: findings.map((f) => findingJson(f, target, run.rendition, notes)),
          tally,
          files: receipt.files,
        }),
      );
    } else {
      for (const a of mended.applied)
        print(`applied: ${a.title} (${a.lossless ? 'the music stays as it is; ' : ''}${a.says})`);
      for (const f of receipt.files)
        print(`wrote ${join(folder, f.path)} (read back: ${f.readBack})`);
      sayProof(file, source, target, run, findings, recipe);
    }
    const differs = receipt.files.some((f) => f.readBack === 'differs');
    if (differs)
      complain(`${file}: what was read back differs from what was meant; see the receipt.`);
    return differs || openStops(findings, recipe) ? 1 : 0;
  });
}
