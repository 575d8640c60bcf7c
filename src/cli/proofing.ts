import { readingOf } from './modules';
import { recipeFor } from '../core/plan/use-recipe';
import type { Finding } from '../core/rules/finding';
import { sayDamage } from '../core/diagnostic/damage';
import { baseOf } from '../core/plan/base';
import { EMPTY_PLAN, type Plan } from '../core/plan/plan';
import { runPlan, type PlanRun } from '../core/plan/run';
import { Trials } from '../core/plan/trial';
import { proof, tallyOf } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import { inventoryOf, mapsOf } from '../core/score/inventory';
import type { Rendition } from '../core/score/piece';
import { sayLeftBehind } from '../core/sources/extras';
import type { Base } from '../core/sources/merge';
import type { SourceScore } from '../core/sources/source';
import type { Target } from '../core/target/schema';
import { count } from '../core/target/words';
import {
  complain,
  loadJob,
  loadRecipe,
  loadTarget,
  open,
  print,
  sequenceOf,
  Unusable,
  whyNot,
  type LeftBy,
} from './files';
import { worse, type Status } from './status';
import { loadSound, soundFacts, soundFrom, type BroughtSound } from './sounds';
import { damageJson, findingJson, inventoryJson } from './json';

export interface ProofOptions {
  target?: string;
  recipe?: string;
  sound?: string;
  json?: boolean;
  together?: boolean;
  job?: string;
  sequence?: string;
  reading?: string[];
}

export { worse, type Status };

/** One piece of work of a call: a file, several that are one job, or a job file. */
export interface Work {
  /** What it is called in what is printed. */
  readonly label: string;
  readonly sources: readonly SourceScore[];
  readonly target: Target;
  readonly plan: Plan;
  readonly leftAsIs: readonly LeftBy[];
  /** What plays beside it: as the call names it, or as the job brings it. */
  readonly sound: BroughtSound | null;
}

export interface Proofed {
  readonly base: Base;
  readonly run: PlanRun;
  readonly findings: Finding[];
}

export function proofOne(work: Work, plan: Plan): Proofed {
  const { target, sound } = work;
  const base = baseOf(work.sources, plan.uses);
  const run = runPlan({ base, target, plan });
  const findings = proof({ rendition: run.rendition, target, base, ...soundFacts(sound) });
  for (const [i, outcome] of run.outcomes.entries()) {
    if (outcome.refused !== null)
      complain(`${work.label}: step ${i + 1} of the plan did nothing. ${outcome.refused}`);
    for (const { file, says } of outcome.passedOver)
      complain(`${work.label}: step ${i + 1} of the plan did nothing on ${file}. ${says}`);
  }
  return { base, run, findings };
}

export const openStops = (findings: readonly Finding[], left: readonly LeftBy[]): boolean =>
  tallyOf(findings, left).stops > 0;

/** The target of a call; a job brings its own. */
function targetOf(options: ProofOptions): Target {
  if (options.target === undefined)
    throw new Unusable('A target is needed: --target with the id of one, or with a target file.');
  return loadTarget(options.target);
}

/**
 * Everything that a call is for, one after the other; what cannot be used is said, and the others
 * are still done.
 */
export async function each(
  files: string[],
  options: ProofOptions,
  one: (work: Work) => Promise<Status> | Status,
  brought: Promise<BroughtSound | null> = loadSound(options.sound),
): Promise<Status> {
  let status: Status = 0;
  const attempt = async (label: string, make: () => Work | Promise<Work> | null) => {
    try {
      const work = await make();
      status = worse(status, work ? await one(work) : 2);
    } catch (error) {
      if (!(error instanceof Unusable)) throw error;
      complain(error.message);
      if (options.json) print(JSON.stringify({ file: label, problem: error.message }));
      status = 2;
    }
  };
  const sound = await brought;
  if (options.job !== undefined) {
    if (files.length > 0) throw new Unusable('Give files or --job, not both.');
    const job = options.job;
    await attempt(job, async () => {
      const { sound: own, ...work } = loadJob(job, options.target);
      return { ...work, sound: sound ?? (own && (await soundFrom(job, own.name, own.bytes))) };
    });
    return status;
  }
  if (files.length === 0) throw new Unusable('Name a file, or a job with --job.');
  const target = targetOf(options);
  const recipe = loadRecipe(options.recipe);
  const leftAsIs = recipe?.leftAsIs ?? [];
  const workOf = (label: string, sources: readonly SourceScore[]): Work => ({
    label,
    sources,
    target,
    plan: recipe ? recipeFor(recipe, sources) : EMPTY_PLAN,
    leftAsIs,
    sound,
  });
  const sequence = sequenceOf(options);
  const reading = readingOf(options.reading);
  const source = (file: string, key: string): SourceScore | null => {
    const { opened, sha256 } = open(file, { key, sequence, reading, target });
    if (opened.source) return opened.source;
    complain(whyNot(file, opened));
    if (options.json)
      print(JSON.stringify({ file, sha256, damage: opened.damage.map(damageJson) }));
    return null;
  };
  if (options.together) {
    await attempt(files.join(' + '), () => {
      const sources = files.map((file, i) => source(file, i === 0 ? 'main' : `source-${i + 1}`));
      if (sources.some((s) => s === null)) return null;
      return workOf(files.join(' + '), sources as SourceScore[]);
    });
    return status;
  }
  for (const file of files)
    await attempt(file, () => {
      const found = source(file, 'main');
      return found && workOf(file, [found]);
    });
  return status;
}

/** @param sound the recording of the call where it is there already: it is decoded once */
export function proofFiles(
  files: string[],
  options: ProofOptions,
  sound?: Promise<BroughtSound | null>,
): Promise<Status> {
  const one = (work: Work): Status => {
    const done = proofOne(work, work.plan);
    if (options.json) print(JSON.stringify(proofJson(work, done)));
    else sayProof(work, done);
    return openStops(done.findings, work.leftAsIs) ? 1 : 0;
  };
  return each(files, options, one, sound);
}

/** Notes times mends that are tried for one answer; beyond it mends are named and not tried. */
const MOST_TRIED = 4_000_000;

/** Works out what mends would do, as long as that stays in bounds. */
export function boundedTrials(base: Base, target: Target, rendition: Rendition, findings: number) {
  const notes = rendition.pieces.reduce(
    (n, { score }) => n + score.parts.reduce((m, p) => m + p.notes.count, 0),
    0,
  );
  return notes * findings > MOST_TRIED ? null : new Trials(base, target);
}

const mendsIn = (findings: readonly Finding[]) => findings.reduce((n, f) => n + f.mends.length, 0);

export function findingsJson(work: Work, { base, run, findings }: Proofed) {
  const trials = boundedTrials(base, work.target, run.rendition, mendsIn(findings));
  return findings.map((f) => findingJson(f, work.target, run.rendition, trials, base));
}

function proofJson(work: Work, done: Proofed) {
  const { sources, target, leftAsIs } = work;
  const of = (source: SourceScore) => ({
    sha256: source.sha256,
    damage: source.damage.map(damageJson),
    inventory: inventoryJson(inventoryOf(source.head, source.score), source.score),
  });
  return {
    file: work.label,
    ...of(sources[0]!),
    ...(sources.length > 1
      ? { together: sources.map((s) => ({ file: s.name, key: s.key, ...of(s) })) }
      : {}),
    target: target.id,
    findings: findingsJson(work, done),
    tally: tallyOf(done.findings, leftAsIs),
  };
}

export function sayProof(work: Work, { base, run, findings }: Proofed) {
  const { target, leftAsIs } = work;
  const { pieces } = run.rendition;
  const maps = pieces.map((p) => mapsOf(p.score));
  const left = new Map(leftAsIs.map((l) => [l.key, l.reason]));
  const tally = tallyOf(findings, leftAsIs);
  print(
    `${work.label} → ${target.name}: ${count(tally.stops, 'stop')}, ${count(tally.cautions, 'caution')}, ${count(tally.remarks, 'remark')}`,
  );
  for (const remark of [...base.remarks, ...sayLeftBehind(base.behind)])
    print(`  sources  ${remark}`);
  for (const source of work.sources)
    for (const d of source.damage) print(`  damage   ${sayDamage(d)}`);
  findings.forEach((f, i) => {
    const { title, wrong, then, where } = sayFinding(f, target, maps[f.piece ?? 0]!);
    const file = f.piece === undefined ? '' : `${pieces[f.piece]!.delivery.fileName}: `;
    print(`  ${String(i + 1).padStart(2)} ${f.severity.padEnd(8)} ${title} (${file}${where})`);
    print(`     ${wrong} ${then}`);
    const reason = left.get(f.key);
    if (reason !== undefined) print(`     left as is: ${reason}`);
    else for (const m of f.mends) print(`     → ${m.title}`);
  });
}
