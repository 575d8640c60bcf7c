import * as Comlink from 'comlink';
import { comparePieces } from '../core/compare/by-id';
import { Cancelled, type Checkpoint } from '../core/diagnostic/checkpoint';
import { isFatal, sayDamage } from '../core/diagnostic/damage';
import type { Finding } from '../core/diagnostic/finding';
import { safeName, type CompanionSound } from '../core/outputs/define-writer';
import { packFiles } from '../core/outputs/pack';
import { sayUse } from '../core/outputs/receipt';
import { fitOf, keptOf } from '../core/plan/fit';
import { rehearsalOf } from '../core/plan/as-meant';
import { rehearse } from '../core/standin/index';
import { writeOutputs } from '../core/outputs/index';
import { handOver } from '../core/plan/hand-over';
import { PlanMemory } from '../core/plan/memory';
import { MEND_REACHES, mendMany, type MendReach } from '../core/plan/mend';
import type { Plan } from '../core/plan/plan';
import { runPlan, type PlanRun } from '../core/plan/run';
import { isJudgedBehind, judgedBehind, Trials } from '../core/plan/trial';
import { seamCandidates } from '../core/reading/seams';
import { proof, tallyOf } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import { inventoryOf, mapsOf, type Maps } from '../core/score/inventory';
import type { Piece, Rendition } from '../core/score/piece';
import { decodeSound } from '../core/sound/decode';
import { lengthMs } from '../core/sound/samples';
import { companionName } from '../core/target/sound';
import { disagreements } from '../core/sources/disagree';
import { makeBase, type Base } from '../core/sources/merge';
import { openSource, withKey, type SourceScore } from '../core/sources/source';
import { sayStep } from '../core/steps/words';
import { hearingOf } from '../core/target/hearing';
import { learnTarget } from '../core/target/learn';
import { count } from '../core/target/words';
import { ColumnKeys, toSchedule, toWire } from '../core/wire/to-view';
import { plainCalls } from './plain-calls';
import { linkSound, lineUpWith, listenTo, makeSound, receive } from './sound-calls';
import { trialView } from './trial-view';
import type {
  Answer,
  Call,
  Engine,
  FindingView,
  HandoverRequest,
  MendAllReply,
  Progress,
  RunRequest,
  SourceRef,
} from './protocol';

const sources = new Map<string, SourceScore>();
const memory = new PlanMemory();
let keys = new ColumnKeys();
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
    if (error instanceof UnknownSource) {
      const { sha256: hash, sequence } = error.ref;
      const which = sequence === undefined ? {} : { sequence };
      return { is: 'unknown-source', sha256: hash, ...which };
    }
    throw error;
  }
}

class UnknownSource extends Error {
  constructor(readonly ref: Pick<SourceRef, 'sha256' | 'sequence'>) {
    super('unknown source');
  }
}

/** Of a format 2 file each sequence is a source of its own. */
const slotOf = ({ sha256: hash, sequence }: Pick<SourceRef, 'sha256' | 'sequence'>) =>
  `${hash}#${sequence ?? ''}`;

/** Key and name are the job's: the same bytes may be known by several. */
function sourceOf(ref: SourceRef): SourceScore {
  const source = sources.get(slotOf(ref));
  if (!source) throw new UnknownSource(ref);
  return withKey(source, ref.key, ref.name);
}

/** The last base: most calls are about the job that is open. */
let lastBase: { key: string; base: Base } | null = null;

function baseFor(refs: readonly SourceRef[], plan: Plan): Base {
  const key = JSON.stringify([refs, plan.uses ?? []]);
  if (lastBase?.key === key) return lastBase.base;
  const base = makeBase(refs.map(sourceOf), plan.uses);
  lastBase = { key, base };
  return base;
}

interface Ran {
  base: Base;
  run: PlanRun;
  findings: Finding[];
}

/** The last run and its findings: mends, sound and handover ask for the same one again. */
let lastRan: { key: string; ran: Ran } | null = null;

function ran(request: Omit<RunRequest, 'known'>, checkpoint: Checkpoint): Ran {
  const { target, plan } = request;
  const sound = soundOf(request);
  const { recordingMs, soundName, soundSha, heard } = request;
  const by = [recordingMs, soundName, soundSha, heard !== undefined];
  const key = JSON.stringify([request.sources, target, plan, by]);
  if (lastRan?.key === key) return lastRan.ran;
  const base = baseFor(request.sources, plan);
  const run = runPlan({ base, target, plan, memory, checkpoint });
  const findings = proof({ rendition: run.rendition, target, base, checkpoint, ...sound });
  const result = { base, run, findings };
  lastRan = { key, ran: result };
  return result;
}

/** What is known of the companion sound. */
const soundOf = ({
  recordingMs,
  soundName,
  heard,
}: Pick<RunRequest, 'recordingMs' | 'soundName' | 'heard'>) => ({
  ...(recordingMs === undefined ? {} : { recordingMs }),
  ...(soundName === undefined ? {} : { soundName }),
  ...(heard ? { heard } : {}),
});

/** The sound that goes out beside the score; its length is that of its samples. */
async function companionOf(
  { sound }: HandoverRequest,
  checkpoint: Checkpoint,
): Promise<CompanionSound | null> {
  if (!sound) return null;
  const bytes = new Uint8Array(sound.bytes);
  const samples = sound.samples ?? (await decodeSound(bytes, checkpoint)).samples;
  return {
    name: safeName(companionName(sound.name)),
    bytes,
    lengthUs: samples ? Math.round(lengthMs(samples) * 1000) : 0,
    ...(samples ? { samples } : {}),
  };
}

/** The piece of the base that a delivered one came from, as far as there is one. */
const cameFrom = (base: Base, index: number): Piece =>
  base.rendition.pieces[index] ?? base.rendition.pieces[0]!;

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
    choice: f.choice ?? null,
    noMend: f.noMend ?? null,
  };
}

function mendReply(
  request: RunRequest & { readonly accept?: boolean },
  reach: MendReach,
  checkpoint: Checkpoint,
): MendAllReply {
  const { base, run } = ran(request, checkpoint);
  const { target, accept = false, leftAsIs } = request;
  const sound = soundOf(request);
  const { rendition } = run;
  const asked = { rendition, target, base, reach, accept, leftAsIs, checkpoint, ...sound };
  const done = mendMany(asked);
  return {
    applied: done.applied.map(({ title, lossless, says, steps }) => ({
      title,
      lossless,
      says,
      steps,
    })),
    remaining: tallyOf(done.findings, leftAsIs),
    ...keptOf(rendition, done.rendition),
    open: done.choices.length,
    chosen: done.chosen,
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
  init(shared, epoch) {
    cancel = shared ? new Int32Array(shared) : null;
    keys = new ColumnKeys(epoch);
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
      sources.set(
        slotOf({ sha256: hash, ...(sequence === undefined ? {} : { sequence }) }),
        source,
      );
      return {
        ok: true as const,
        source: {
          sha256: hash,
          name,
          bytes: bytes.length,
          ...(source.sequence === undefined ? {} : { sequence: source.sequence }),
          ...(source.head.sequences ? { sequences: source.head.sequences } : {}),
          inventory: inventoryOf(source.head, source.score),
          damage: source.damage.map(sayDamage),
          trackNames: source.score.tracks.map((t) => t.name),
          ...(source.extras?.meantFor ? { meantFor: source.extras.meantFor } : {}),
        },
      };
    }),

  forget(hash) {
    for (const key of sources.keys()) if (key.startsWith(`${hash}#`)) sources.delete(key);
    lastRan = null;
    lastBase = null;
  },

  run: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { base, run, findings } = ran(request, checkpoint);
      const known = new Set(request.known);
      const { pieces } = run.rendition;
      // A carve may have fewer pieces than it had: then the last is shown.
      const shown = Math.min(request.piece ?? 0, pieces.length - 1);
      const delivered = toWire(pieces[shown]!, keys, known);
      // Columns that the plan did not touch are sent once for both.
      for (const part of delivered.wire.parts)
        if (typeof part.columns === 'object') known.add(part.columns.key);
      const before = toWire(cameFrom(base, shown), keys, known);
      const compared = comparePieces(base.rendition.pieces, pieces, {
        hearing: hearingOf(request.target),
        checkpoint,
      });
      const maps = mapsOf(cameFrom(base, 0).score);
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
          passedOver: run.outcomes[i]!.passedOver.map((p) => `${p.file}: ${p.says}`),
          missing: run.outcomes[i]!.missing,
        })),
        findings: findings.map((f) => findingView(f, request, allMaps)),
        tally: tallyOf(findings, request.leftAsIs),
        kept: keptOf(base.rendition, run.rendition),
        choices: findings.filter(
          (f) => f.choice !== undefined && !request.leftAsIs.some((l) => l.key === f.key),
        ).length,
        commonShiftMs: compared.commonShiftMs,
        changes: CHANGE_WORDS.flatMap(([key, words]) =>
          compared[key] > 0 ? [`${count(compared[key], 'note')} ${words}`] : [],
        ),
        uses: base.uses.map(({ source, as, follows, offset, rules }) => ({
          source: source.key,
          name: source.name,
          as,
          follows,
          offset,
          rules,
          says: sayUse({ as, follows, offset, rules, alone: base.sources.length === 1 }),
        })),
        remarks: base.remarks,
        disagreements: disagreements(base),
      };
      const notes = view.findings.map((f) => f.notes.buffer as ArrayBuffer);
      return Comlink.transfer(view, [...delivered.transfer, ...before.transfer, ...notes]);
    }),

  tryMends: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { base, run, findings } = ran(request, checkpoint);
      const trials = new Trials(base, request.target, checkpoint);
      const out: Record<string, ReturnType<typeof trialView>[]> = {};
      const sound = soundOf(request);
      const judge = (rendition: Rendition) =>
        proof({ rendition, target: request.target, base, checkpoint, ...sound });
      findings.forEach((f, i) => {
        const judged = isJudgedBehind(f);
        out[f.key] = f.mends.map((mend) => {
          checkpoint(i, findings.length);
          const trial = trials.try(run.rendition, mend);
          if (!judged || trial.refused !== null) return trialView(trial);
          return trialView(judgedBehind(trial, findings, judge(trial.rendition)));
        });
      });
      return out;
    }),

  mendAll: (call, request, progress) =>
    answer(call, progress, (checkpoint) => mendReply(request, request.reach, checkpoint)),

  reaches: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const entries = MEND_REACHES.map((reach, i) => [
        reach,
        mendReply(request, reach, (done, total) =>
          checkpoint(i * total + done, MEND_REACHES.length * total),
        ),
      ]);
      return Object.fromEntries(entries) as Record<MendReach, MendAllReply>;
    }),

  schedule: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { base, run } = ran(request, checkpoint);
      const { pieces } = run.rendition;
      const shown = Math.min(request.piece ?? 0, pieces.length - 1);
      const schedule =
        request.which === 'source'
          ? toSchedule(cameFrom(base, shown), { leftOutToo: true })
          : toSchedule(pieces[shown]!, { leftOutToo: false });
      const { ms, status, data1, data2, part } = schedule;
      const columns = [ms, status, data1, data2, part].map((c) => c.buffer as ArrayBuffer);
      return Comlink.transfer(schedule, columns);
    }),

  handOver: (call, request, progress) =>
    answer(call, progress, async (checkpoint) => {
      const { base, run, findings } = ran(request, checkpoint);
      const { files, receipt, unwritten, rehearsal } = await handOver({
        ...request,
        sound: await companionOf(request, checkpoint),
        base,
        run,
        findings,
        sha256,
        checkpoint,
      });
      return { files, receipt, unwritten, rehearsal, pack: packFiles(files) };
    }),

  fit: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { target, plan } = request;
      return fitOf({ base: baseFor(request.sources, plan), target, plan, checkpoint });
    }),

  addresses: (call, request, progress) =>
    answer(call, progress, () =>
      baseFor(request.sources, request.plan).addressesOf(new Set(request.origins)),
    ),

  listen: (call, request, progress) =>
    answer(call, progress, (checkpoint) => listenTo(request, checkpoint)),

  lineUp: (call, request, progress) =>
    answer(call, progress, (checkpoint) => lineUpWith(request, checkpoint)),

  rehearse: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { run, findings } = ran(request, checkpoint);
      // The recording runs beside it and is no part of what is played: its bytes are not needed.
      const outputs = request.target.outputs.filter((o) => o.writer !== 'sound');
      const target = { ...request.target, outputs };
      const { files } = writeOutputs(run.rendition, target);
      checkpoint(1, 3);
      const played = rehearse(files, target);
      checkpoint(2, 3);
      const rehearsal = rehearsalOf(files, run.rendition, target, findings);
      const holds = files.flatMap(({ path: file, holds: piece }) =>
        piece === undefined ? [] : [{ file, piece }],
      );
      return { played, holds, rehearsal };
    }),

  receive: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const sound = request.samples
        ? null
        : linkSound(writeOutputs(ran(request, checkpoint).run.rendition, request.target).files);
      checkpoint(1, 2);
      return receive(request, sound);
    }),

  makeSound: (call, request, progress) =>
    answer(call, progress, async (checkpoint) => {
      const { pieces } = ran(request, checkpoint).run.rendition;
      const piece = pieces[Math.min(request.piece ?? 0, pieces.length - 1)]!;
      const made = await makeSound(piece, request, checkpoint);
      return Comlink.transfer(made, [made.bytes.buffer as ArrayBuffer]);
    }),

  seams: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { pieces } = ran(request, checkpoint).run.rendition;
      const piece = pieces[Math.min(request.piece ?? 0, pieces.length - 1)]!;
      return seamCandidates(piece, { fromBars: request.fromBars });
    }),

  learn: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const { sources: asked, name } = request;
      checkpoint(0, asked.length);
      return learnTarget(asked.map(sourceOf), name);
    }),

  ...plainCalls,
};
