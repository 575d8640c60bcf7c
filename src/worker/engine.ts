import * as Comlink from 'comlink';
import * as z from 'zod';
import { comparePieces } from '../core/compare/by-id';
import { isFatal, sayDamage } from '../core/diagnostic/damage';
import type { Finding } from '../core/diagnostic/finding';
import { handOver } from '../core/outputs/handover';
import { writers } from '../core/outputs/index';
import { packFiles, unpackFiles } from '../core/outputs/pack';
import { gatherLosses } from '../core/outputs/receipt';
import { fitOf } from '../core/plan/fit';
import { mendMany, tryMend } from '../core/plan/mend';
import { Cancelled, type Checkpoint, type SourceScore } from '../core/plan/model';
import { openSource } from '../core/plan/open';
import { parseRecipe } from '../core/plan/recipe';
import { baseRendition, lazyIndex, PlanMemory, runPlan, type PlanRun } from '../core/plan/run';
import { sayStep } from '../core/plan/words';
import { rules } from '../core/rules/index';
import { proof, tallyOf } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import { inventoryOf, mapsOf, type Maps } from '../core/score/inventory';
import { findStep, steps } from '../core/steps/index';
import { learnTarget } from '../core/target/learn';
import { count } from '../core/target/words';
import { ColumnKeys, toSchedule, toWire } from '../core/wire/to-view';
import type { Answer, Call, Engine, FindingView, Progress, RunRequest } from './protocol';

const sources = new Map<string, SourceScore>();
const memory = new PlanMemory();
const keys = new ColumnKeys();
let cancel: Int32Array | null = null;

const hex = (buffer: ArrayBuffer) =>
  Array.from(new Uint8Array(buffer), (b) => b.toString(16).padStart(2, '0')).join('');
const sha256 = async (bytes: Uint8Array) =>
  hex(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>));

const japanese = new TextDecoder('shift_jis');
const shiftJis = (bytes: Uint8Array) => japanese.decode(bytes);

/** Progress at most every 50 ms; a call that was given up ends here. */
function checkpointOf(call: Call, progress: Progress): Checkpoint {
  let last = performance.now();
  return (done, total) => {
    if (cancel && Atomics.load(cancel, call.id % cancel.length) === call.id) throw new Cancelled();
    const now = performance.now();
    if (now - last < 50) return;
    last = now;
    progress(done, total);
  };
}

async function answer<T>(
  call: Call,
  progress: Progress,
  work: (checkpoint: Checkpoint) => Promise<T> | T,
): Promise<Answer<T>> {
  try {
    const checkpoint = checkpointOf(call, progress);
    checkpoint(0, 1);
    return { is: 'done', value: await work(checkpoint) };
  } catch (error) {
    if (error instanceof Cancelled) return { is: 'cancelled' };
    if (error instanceof UnknownSource) return { is: 'unknown-source', sha256: error.sha256 };
    throw error;
  }
}

class UnknownSource extends Error {
  constructor(readonly sha256: string) {
    super('unknown source');
  }
}

/** Of a format 2 file each sequence is a source of its own. */
const sourceKey = (sha256: string, sequence = 0) => `${sha256}#${sequence}`;

interface SourceName {
  readonly sha256: string;
  readonly sequence?: number;
  readonly name: string;
}

/** The name is the job's: the same bytes may be known by several. */
function sourceOf({ sha256, sequence, name }: SourceName): SourceScore {
  const source = sources.get(sourceKey(sha256, sequence));
  if (!source) throw new UnknownSource(sha256);
  return source.name === name ? source : { ...source, name };
}

interface Ran {
  source: SourceScore;
  run: PlanRun;
  findings: Finding[];
}

/** The last run and its findings: mends, sound and handover ask for the same one again. */
let lastRan: { key: string; ran: Ran } | null = null;

function ran(request: Omit<RunRequest, 'known'>, checkpoint: Checkpoint): Ran {
  const source = sourceOf(request);
  const { target, plan } = request;
  const key = JSON.stringify([request.sha256, request.sequence, source.name, target, plan]);
  if (lastRan?.key === key) return lastRan.ran;
  const run = runPlan({ source, target, plan, memory, checkpoint });
  const findings = proof({ rendition: run.rendition, target, source, checkpoint });
  const result = { source, run, findings };
  lastRan = { key, ran: result };
  return result;
}

function findingView(f: Finding, request: RunRequest, maps: readonly Maps[]): FindingView {
  const said = sayFinding(f, request.target, maps[f.piece ?? 0]!);
  return {
    key: f.key,
    rule: f.rule,
    code: f.code,
    severity: f.severity,
    ...said,
    part: f.part,
    piece: f.piece ?? null,
    spans: f.spans,
    notes: f.notes.slice(),
    mends: f.mends,
    noMend: f.noMend ?? null,
  };
}

const CHANGE_WORDS = [
  ['dropped', 'left out or dropped'],
  ['added', 'added'],
  ['moved', 'moved on the clock'],
  ['lengthChanged', 'of another length'],
  ['keyChanged', 'on another key'],
  ['velocityChanged', 'of another velocity'],
  ['soundChanged', 'with another program, level or bend'],
] as const;

export const engine: Engine = {
  init(shared) {
    cancel = shared ? new Int32Array(shared) : null;
  },

  open: (call, request, progress) =>
    answer(call, progress, async (checkpoint) => {
      const bytes = new Uint8Array(request.bytes);
      const hash = await sha256(bytes);
      const { name, sequence } = request;
      const opened = openSource(bytes, {
        key: 'main',
        name,
        sha256: hash,
        checkpoint,
        shiftJis,
        ...(sequence === undefined ? {} : { sequence }),
      });
      const { source } = opened;
      if (!source) {
        const problems = opened.damage.filter(isFatal).map(sayDamage);
        return { ok: false as const, sha256: hash, problems };
      }
      sources.set(sourceKey(hash, sequence), source);
      return {
        ok: true as const,
        source: {
          sha256: hash,
          name,
          bytes: bytes.length,
          inventory: inventoryOf(source.head, source.score),
          damage: source.damage.map(sayDamage),
          trackNames: source.score.tracks.map((t) => t.name),
        },
      };
    }),

  forget(hash) {
    for (const key of sources.keys()) if (key.startsWith(`${hash}#`)) sources.delete(key);
    lastRan = null;
  },

  run: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { source, run, findings } = ran(request, checkpoint);
      const known = new Set(request.known);
      const { pieces } = run.rendition;
      // A carve may have fewer pieces than it had: then the last is shown.
      const shown = Math.min(request.piece ?? 0, pieces.length - 1);
      const delivered = toWire(pieces[shown]!, keys, known);
      // Columns that the plan did not touch are sent once for both.
      for (const part of delivered.wire.parts)
        if (typeof part.columns === 'object') known.add(part.columns.key);
      const base = baseRendition(source, request.target).pieces[0]!;
      const before = toWire({ ...base, score: source.score }, keys, known);
      const compared = comparePieces(
        source.score,
        pieces.map((p) => p.score),
      );
      const maps = mapsOf(source.score);
      const allMaps = pieces.map((p) => mapsOf(p.score));
      const view = {
        pieces: pieces.map((p) => p.delivery.fileName),
        piece: shown,
        delivered: delivered.wire,
        source: before.wire,
        steps: request.plan.steps.map((step, i) => ({
          key: step.key,
          says: sayStep(step, maps),
          effect: run.outcomes[i]!.effect?.says ?? null,
          refused: run.outcomes[i]!.refused,
          missing: run.outcomes[i]!.missing,
        })),
        findings: findings.map((f) => findingView(f, request, allMaps)),
        tally: tallyOf(findings, request.leftAsIs),
        commonShiftMs: compared.commonShiftMs,
        changes: CHANGE_WORDS.flatMap(([key, words]) =>
          compared[key] > 0 ? [`${count(compared[key], 'note')} ${words}`] : [],
        ),
      };
      const notes = view.findings.map((f) => f.notes.buffer as ArrayBuffer);
      return Comlink.transfer(view, [...delivered.transfer, ...before.transfer, ...notes]);
    }),

  tryMends: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { source, run, findings } = ran(request, checkpoint);
      const notes = lazyIndex(source);
      const out: Record<string, ReturnType<typeof trialView>[]> = {};
      findings.forEach((f, i) => {
        out[f.key] = f.mends.map((mend) => {
          checkpoint(i, findings.length);
          return trialView(tryMend(run.rendition, mend, notes));
        });
      });
      return out;
    }),

  mendAll: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { source, run } = ran(request, checkpoint);
      const { target, losslessOnly, leftAsIs } = request;
      const { rendition } = run;
      const result = mendMany({ rendition, target, source, losslessOnly, leftAsIs, checkpoint });
      return {
        applied: result.applied.map(({ title, lossless, says, steps: s }) => ({
          title,
          lossless,
          says,
          steps: s,
        })),
        remaining: tallyOf(result.findings, leftAsIs),
      };
    }),

  schedule: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { source, run } = ran(request, checkpoint);
      const { pieces } = run.rendition;
      const piece = pieces[Math.min(request.piece ?? 0, pieces.length - 1)]!;
      const schedule =
        request.which === 'source'
          ? toSchedule({ ...piece, score: source.score }, { leftOutToo: true })
          : toSchedule(piece, { leftOutToo: false });
      const { ms, status, data1, data2, part } = schedule;
      const columns = [ms, status, data1, data2, part].map((c) => c.buffer as ArrayBuffer);
      return Comlink.transfer(schedule, columns);
    }),

  handOver: (call, request, progress) =>
    answer(call, progress, async (checkpoint) => {
      const { source, run, findings } = ran(request, checkpoint);
      const { files, receipt } = await handOver({
        ...request,
        source,
        run,
        findings,
        sha256,
        checkpoint,
      });
      return { files, receipt, pack: packFiles(files) };
    }),

  fit: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { target, plan } = request;
      return fitOf({ source: sourceOf(request), target, plan, checkpoint });
    }),

  learn: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { sources: asked, name } = request;
      checkpoint(0, asked.length);
      return learnTarget(asked.map(sourceOf), name);
    }),

  catalogue: () => ({
    rules: rules.map(({ id, summary, block, reads }) => ({
      id,
      summary,
      block,
      reads: reads ?? null,
    })),
    writers: writers.map(({ id, summary }) => ({ id, summary })),
  }),

  stepForms: () =>
    steps.map(({ id, title, summary, params }) => ({
      id,
      title,
      summary,
      params: z.toJSONSchema(params, { io: 'input' }),
    })),

  checkStep(step) {
    const definition = findStep(step.step);
    if (!definition) return { says: null, problem: `There is no step named "${step.step}".` };
    const params = definition.params.safeParse(step.params);
    if (params.success) return { says: sayStep(step), problem: null };
    const issue = params.error.issues[0]!;
    return {
      says: null,
      problem: `${issue.path.join('.') || definition.title}: ${issue.message}.`,
    };
  },

  readRecipe(text) {
    const result = parseRecipe(text);
    return result.recipe
      ? { recipe: result.recipe, problem: null }
      : { recipe: null, problem: result.problem ?? '' };
  },

  pack: (files) => packFiles(files),

  unpack(bytes) {
    const result = unpackFiles(new Uint8Array(bytes));
    if (result.problem !== undefined) return { problem: result.problem };
    return { files: [...result.files].map(([path, content]) => ({ path, bytes: content })) };
  },
};

const trialView = (trial: ReturnType<typeof tryMend>) => ({
  lossless: trial.lossless,
  notesTouched: trial.notesTouched,
  shiftMs: trial.shiftMs,
  says: trial.says,
  losses: gatherLosses(trial.losses).map((l) => `${l.count.toLocaleString('en-GB')} ${l.what}`),
  refused: trial.refused,
});
