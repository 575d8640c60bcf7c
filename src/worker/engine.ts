import { whichOf } from '../core/sources/which';
import * as Comlink from 'comlink';
import { comparePieces } from '../core/compare/by-id';
import { driftBetween } from '../core/compare/by-music';
import { isFatal, sayDamage } from '../core/diagnostic/damage';
import { packFiles } from '../core/outputs/pack';
import { sayUse } from '../core/handover/receipt';
import { musicView } from '../core/wire/music';
import { figuresOf } from '../core/compare/figures';
import { promisedBy } from '../core/plan/promise';
import { fitOf, keptOf } from '../core/plan/fit';
import { rehearsalOf } from '../core/handover/rehearsal';
import { rehearse } from '../core/standin/index';
import { writeOutputs } from '../core/outputs/index';
import { layBeside } from '../core/handover/file-beside';
import { fileLines } from '../core/handover/file-lines';
import { handOver } from '../core/handover/hand-over';
import { MEND_REACHES, type MendReach } from '../core/plan/mend';
import { thinnedBy } from '../core/steps/curves/thinned';
import { makeClock } from '../core/time/tempo-map';
import { rowRatesOf } from '../core/plan/row-rates';
import { runPlan } from '../core/plan/run';
import { isJudgedBehind, judgedBehind, Trials } from '../core/plan/trial';
import { seamCandidates } from '../core/reading/seams';
import { songBars } from '../core/reading/stretches';
import { proof, tallyOf } from '../core/rules/proof';
import { inventoryOf, mapsOf } from '../core/score/inventory';
import type { Rendition } from '../core/score/piece';
import { disagreements } from '../core/sources/disagree';
import { sayLeftBehind } from '../core/sources/extras';
import { openSource } from '../core/sources/source';
import { sayStep } from '../core/steps/words';
import { hearingOf } from '../core/target/hearing';
import { learnTarget } from '../core/learning/learn';
import { count } from '../core/target/words';
import { ColumnKeys, toSchedule, toWire } from '../core/wire/to-view';
import { learningCalls } from './learning-calls';
import { moduleCalls } from './module-calls';
import { plainCalls } from './plain-calls';
import { setCalls } from './set-calls';
import { linkSound, lineUpWith, listenTo, loudnessFor, makeSound, receive } from './sound-calls';
import { trialView } from './trial-view';
import { cameFrom, companionOf, Known, sha256, shiftJis, soundOf } from './known';
import type { Engine, MendAllReply } from './protocol';
import type { MendTrialView } from './run-protocol';
import { CHANGE_WORDS, findingView, mendReply, pieceFiles } from './views';

/** The engine of one worker; all that it keeps between calls is in `known`. */
export function makeEngine(known = new Known()): Engine {
  const { answer, baseFor, forget, ran, sourceOf } = known;
  let keys = new ColumnKeys();

  return {
    init(shared, epoch) {
      known.sharesCancel(shared);
      keys = new ColumnKeys(epoch);
    },

    open: (call, request, progress) =>
      answer(call, progress, async (checkpoint) => {
        const bytes = new Uint8Array(request.bytes);
        const hash = await sha256(bytes);
        const { name, own } = request;
        const opened = openSource(bytes, {
          key: 'main',
          name,
          sha256: hash,
          checkpoint,
          shiftJis,
          own,
          module: known.moduleOf(hash),
          ...whichOf(request),
        });
        const { source } = opened;
        const readBy = own?.[opened.readBy ?? -1];
        if (!source) {
          const problems = opened.damage.filter(isFatal).map(sayDamage);
          return { ok: false as const, sha256: hash, problems };
        }
        known.keep({ sha256: hash, ...whichOf(request) }, source);
        return {
          ok: true as const,
          ...(readBy ? { readBy } : {}),
          source: {
            sha256: hash,
            name,
            bytes: bytes.length,
            ...(source.sequence === undefined ? {} : { sequence: source.sequence }),
            ...(source.head.sequences ? { sequences: source.head.sequences } : {}),
            inventory: inventoryOf(source.head, source.score),
            damage: source.damage.map(sayDamage),
            trackNames: source.score.tracks.map((t) => t.name),
            ...(source.extras?.module ? { module: source.extras.module.module.format } : {}),
            ...(source.extras?.meantFor ? { meantFor: source.extras.meantFor } : {}),
            ...(readBy ? { meantFor: readBy.target, readAs: readBy.name } : {}),
          },
        };
      }),

    forget,

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
          for (const sent of [part.columns, part.turns])
            if (typeof sent === 'object' && sent) known.add(sent.key);
        const before = toWire(cameFrom(base, shown), keys, known);
        const compared = comparePieces(base.rendition.pieces, pieces, {
          hearing: hearingOf(request.target),
          checkpoint,
        });
        const maps = mapsOf(cameFrom(base, 0).score);
        const allMaps = pieces.map((p) => mapsOf(p.score));
        const view = {
          pieces: pieceFiles(pieces, request.target),
          piece: shown,
          delivered: delivered.wire,
          source: before.wire,
          steps: request.plan.steps.map((step, i) => ({
            key: step.key,
            says: sayStep(step, maps, request.target),
            effect: run.outcomes[i]!.effect?.says ?? null,
            refused: run.outcomes[i]!.refused,
            passedOver: run.outcomes[i]!.passedOver.map((p) => `${p.file}: ${p.says}`),
            missing: run.outcomes[i]!.missing,
          })),
          findings: findings.map((f) => findingView(f, request, allMaps)),
          tally: tallyOf(findings, request.leftAsIs),
          kept: keptOf(base.rendition, run.rendition),
          figures: figuresOf(base.rendition, run.rendition, request.target),
          music: musicView(cameFrom(base, shown).score),
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
          remarks: [...base.remarks, ...sayLeftBehind(base.behind)],
          disagreements: disagreements(base),
        };
        const notes = view.findings.map((f) => f.notes.buffer as ArrayBuffer);
        return Comlink.transfer(view, [...delivered.transfer, ...before.transfer, ...notes]);
      }),

    tryMends: (call, request, progress) =>
      answer(call, progress, (checkpoint) => {
        const { base, run, findings } = ran(request, checkpoint);
        const trials = new Trials(base, request.target, checkpoint);
        const out: Record<string, MendTrialView[]> = {};
        const sound = soundOf(request);
        const judge = (rendition: Rendition) =>
          proof({ rendition, target: request.target, base, checkpoint, ...sound });
        findings.forEach((f, i) => {
          const judged = isJudgedBehind(f);
          out[f.key] = f.mends.map((mend) => {
            checkpoint(i, findings.length);
            const trial = trials.try(run.rendition, mend);
            // Who plays, and with what, decides how much of the music is there.
            if (f.choice !== undefined && trial.refused === null)
              return {
                ...trialView(trial),
                figures: promisedBy(trial.rendition, request.target, base),
              };
            if (!judged || trial.refused !== null) return trialView(trial);
            return trialView(judgedBehind(trial, findings, judge(trial.rendition)));
          });
        });
        return out;
      }),

    mendAll: (call, request, progress) =>
      answer(call, progress, (checkpoint) =>
        mendReply(ran(request, checkpoint), request, request.reach, checkpoint),
      ),

    reaches: (call, request, progress) =>
      answer(call, progress, (checkpoint) => {
        const entries = MEND_REACHES.map((reach, i) => [
          reach,
          mendReply(ran(request, checkpoint), request, reach, (done, total) =>
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
            : toSchedule(pieces[shown]!, { leftOutToo: request.withMusic ?? false });
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
      answer(call, progress, (checkpoint) => lineUpWith(request, sourceOf, checkpoint)),

    fileLines: (call, request, progress) =>
      answer(call, progress, (checkpoint) => {
        const { run } = ran(request, checkpoint);
        const outputs = request.target.outputs.filter((o) => o.writer !== 'sound');
        const target = { ...request.target, outputs };
        const { files } = writeOutputs(run.rendition, target);
        checkpoint(1, 2);
        const file = files.find((f) => f.path === request.path);
        if (!file) return null;
        const mine = fileLines(file, run.rendition, target);
        const { beside: bytes } = request;
        if (!bytes) return { file: mine, beside: null };
        const other = fileLines({ ...file, bytes }, run.rendition, target);
        return { file: mine, beside: layBeside(mine, other) };
      }),

    ...learningCalls(answer),
    ...moduleCalls(answer, sourceOf),
    ...setCalls({ answer, sourceOf }),

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
        const { fromBars, loudness } = request;
        return seamCandidates(piece, { fromBars, ...(loudness ? { loudness } : {}) });
      }),

    songBars: (call, request, progress) =>
      answer(call, progress, () => {
        const { sources, target, plan } = request;
        const { rendition } = runPlan({ base: baseFor(sources, plan), target, plan });
        return rendition.pieces.map(songBars);
      }),

    rowRates: (call, request, progress) =>
      answer(call, progress, (checkpoint) => {
        const { pieces } = ran(request, checkpoint).run.rendition;
        const piece = pieces[Math.min(request.piece ?? 0, pieces.length - 1)]!;
        return rowRatesOf(piece, request.target);
      }),

    thin: (call, request, progress) =>
      answer(call, progress, () => {
        const { within, perSecond, division, tempos } = request;
        const clock = makeClock(division, tempos);
        return thinnedBy(request, within, perSecond, (tick) => clock.msAt(tick) * 1000);
      }),

    loudness: (call, request, progress) =>
      answer(call, progress, async (checkpoint) => {
        const { pieces } = ran(request, checkpoint).run.rendition;
        const piece = pieces[Math.min(request.piece ?? 0, pieces.length - 1)]!;
        return loudnessFor(piece, request, checkpoint);
      }),

    driftFrom: (call, request, progress) =>
      answer(call, progress, (checkpoint) => {
        const bytes = new Uint8Array(request.other.bytes);
        const { source, damage } = openSource(bytes, {
          key: 'other',
          name: request.other.name,
          sha256: '',
          checkpoint,
          shiftJis,
        });
        if (!source) return { ok: false as const, problems: damage.filter(isFatal).map(sayDamage) };
        const { pieces } = ran(request, checkpoint).run.rendition;
        const piece = pieces[Math.min(request.piece ?? 0, pieces.length - 1)]!;
        const { drift, ...compared } = driftBetween(piece.score, source.score);
        return { ok: true as const, ...drift, says: compared.says };
      }),

    learn: (call, request, progress) =>
      answer(call, progress, (checkpoint) => {
        const { sources: asked, name } = request;
        checkpoint(0, asked.length);
        return learnTarget(asked.map(sourceOf), name);
      }),

    ...plainCalls,
  };
}
