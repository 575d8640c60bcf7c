import { defineStore } from 'pinia';
import { computed, markRaw, ref, shallowRef } from 'vue';
import type { Plan, PlanStep } from '../../core/plan/plan';
import type { StepCall } from '../../core/steps/call';
import type { JobSource } from '../../core/plan/job-file';
import type { Disagreement } from '../../core/sources/disagree';
import type { SourceUse } from '../../core/sources/use';
import { scopeOnBase } from '../../core/steps/scope';
import type { Scope } from '../../core/steps/call';
import type { Target } from '../../core/target/schema';
import { count } from '../../core/target/words';
import { makeClock } from '../../core/time/tempo-map';
import { makeBars } from '../../core/score/score';
import type { MeterMap } from '../../core/time/meter-map';
import type { NoteView, PieceView, PieceWire, SourceView } from '../../core/wire/view';
import type { RunningCall } from '../../worker/client';
import type {
  FindingView,
  MendTrialView,
  RunRequest,
  StepView,
  UseView,
} from '../../worker/protocol';
import { db, storageProblem } from '../storage/db';
import { lockName } from '../storage/locks';
import {
  activePlan,
  newKey,
  newPlan,
  pushState,
  redoState,
  undoState,
  sourcesOf,
  withPlan,
  withSources,
  type JobRecord,
  type PlanState,
  type TargetPlan,
} from '../storage/job';
import { engine, sideEngine } from './engine';

/** A piece with its maps, ready to be drawn. */
export interface LaidPiece extends PieceView {
  readonly clock: ReturnType<typeof makeClock>;
  readonly bars: MeterMap;
}

export interface Shown {
  /** The files of the delivery, of which one is on the sheet. */
  readonly pieces: readonly string[];
  readonly piece: number;
  readonly delivered: LaidPiece;
  readonly source: LaidPiece;
  readonly steps: readonly StepView[];
  readonly findings: readonly FindingView[];
  readonly commonShiftMs: number;
  readonly changes: readonly string[];
  readonly uses: readonly UseView[];
  readonly remarks: readonly string[];
  readonly disagreements: readonly Disagreement[];
}

/** What further steps would come to, and by how much all would move. */
export interface TriedOut {
  readonly piece: LaidPiece;
  readonly shiftMs: number;
}

interface Busy {
  says: string;
  done: number;
  total: number;
  cancel: () => void;
}

/** The job that is open: its record, what the plan comes to, and every way to change it. */
export const useJob = defineStore('job', () => {
  const record = shallowRef<JobRecord | null>(null);
  /** What came in, by the key of its source. */
  const sources = shallowRef<ReadonlyMap<string, SourceView>>(new Map());
  /** Key of the source that Intake shows; the ruling one where nothing was chosen. */
  const lookedAt = ref<string | null>(null);
  const shown = shallowRef<Shown | null>(null);
  const trials = shallowRef<Readonly<Record<string, readonly MendTrialView[]>>>({});
  const busy = ref<Busy | null>(null);
  const problem = ref<string | null>(null);
  const saveProblem = ref<string | null>(null);
  /** Which file of the delivery is on the sheet. */
  const piece = ref(0);
  /** Another tab has this job. */
  const readOnly = ref(false);
  const missing = ref(false);
  /** What was done last, for the live region. */
  const said = ref('');

  const sourcesNow = computed<readonly JobSource[]>(() =>
    record.value ? sourcesOf(record.value) : [],
  );
  const source = computed<SourceView | null>(() => {
    const key = lookedAt.value ?? shown.value?.uses.find((u) => u.rules)?.source ?? '';
    return sources.value.get(key) ?? sources.value.values().next().value ?? null;
  });
  const plan = computed<TargetPlan | null>(() => (record.value ? activePlan(record.value) : null));
  const target = computed<Target | null>(() => plan.value?.target ?? null);
  const reasons = computed(
    () => new Map(plan.value?.now.leftAsIs.map((l) => [l.key, l.reason]) ?? []),
  );
  /** Findings with their numbers, in the order of the sheet. */
  const findings = computed(() =>
    (shown.value?.findings ?? []).map((finding, i) => ({
      ...finding,
      number: i + 1,
      reason: reasons.value.get(finding.key) ?? null,
    })),
  );
  /** Those of the piece that is on the sheet. */
  const findingsHere = computed(() =>
    findings.value.filter((f) => f.piece === null || f.piece === shown.value?.piece),
  );
  const tally = computed(() => {
    const open = findings.value.filter((f) => f.reason === null);
    const of = (severity: string) => open.filter((f) => f.severity === severity).length;
    return { stops: of('stop'), cautions: of('caution'), remarks: of('remark') };
  });
  const losslessCount = computed(
    () =>
      findings.value.filter(
        (f) => f.reason === null && trials.value[f.key]?.some((t) => t.lossless && !t.refused),
      ).length,
  );

  /** The best mend first: one that loses nothing, then one that keeps every note, dropping last. */
  function rankedMends({ key, mends }: Pick<FindingView, 'key' | 'mends'>) {
    const list = mends.map((mend, i) => ({ mend, i }));
    const tried = trials.value[key];
    if (!tried || tried.length < list.length) return list;
    const cost = (i: number) => {
      const { refused, cost } = tried[i]!;
      return refused ? Number.MAX_VALUE : cost;
    };
    return list.sort((a, b) => cost(a.i) - cost(b.i) || a.i - b.i);
  }

  // --- opening and the lock -------------------------------------------------------------------

  let releaseLock: (() => void) | null = null;
  let lockRound = 0;

  function takeLock(id: string) {
    releaseLock?.();
    releaseLock = null;
    readOnly.value = false;
    if (!navigator.locks) return;
    const mine = ++lockRound;
    const name = lockName(id);
    // A job that was left before its lock was granted must not hold it.
    const hold = () =>
      mine === lockRound
        ? new Promise<void>((resolve) => (releaseLock = resolve))
        : Promise.resolve();
    void navigator.locks.request(name, { ifAvailable: true }, async (lock) => {
      if (lock || mine !== lockRound) return hold();
      readOnly.value = true;
      // When the other tab lets go, this one reads what was saved there and may write.
      const waiting = new AbortController();
      releaseLock = () => waiting.abort();
      navigator.locks
        .request(name, { signal: waiting.signal }, async () => {
          const held = hold();
          const saved = await db.jobs.get(id);
          if (mine !== lockRound) return held;
          if (!saved) missing.value = true;
          else if (record.value?.id === id) record.value = saved;
          readOnly.value = false;
          await openSources();
          void refresh();
          return held;
        })
        .catch(() => undefined); // given up: the job was closed first
    });
  }

  async function open(id: string) {
    close();
    missing.value = false;
    const mine = lockRound;
    let row: JobRecord | undefined;
    try {
      row = await db.jobs.get(id);
    } catch (error) {
      problem.value = storageProblem(error);
      return;
    }
    if (mine !== lockRound) return;
    if (!row) {
      missing.value = true;
      return;
    }
    takeLock(id);
    record.value = row;
    await openSources();
    await refresh();
  }

  /** Opens what the plan names and is not open yet; forgets what it names no more. */
  async function openSources() {
    const wanted = sourcesNow.value;
    const next = new Map<string, SourceView>();
    for (const { key, sha256, name, sequence } of wanted) {
      const known = sources.value.get(key);
      if (known?.sha256 === sha256 && known.asked === sequence) {
        next.set(key, known);
        continue;
      }
      const stored = await db.sources.get(sha256);
      if (!stored) {
        problem.value = `The bytes of ${name} are no longer in the browser. Drop the file again.`;
        continue;
      }
      const which = sequence === undefined ? {} : { sequence };
      const reply = await working(
        `Reading ${name}`,
        engine().open({ bytes: stored.bytes, name, ...which }, report),
      );
      if (!reply) return;
      if (reply.ok)
        next.set(
          key,
          markRaw({ ...reply.source, ...(sequence === undefined ? {} : { asked: sequence }) }),
        );
      else problem.value = `${name}: ${reply.problems.join(' ')}`;
    }
    const kept = new Set([...next.values()].map((v) => v.sha256));
    for (const { sha256 } of sources.value.values())
      if (!kept.has(sha256)) void engine().plain.forget(sha256);
    sources.value = next;
  }

  function close() {
    lockRound++;
    running?.cancel();
    trying?.cancel();
    releaseLock?.();
    releaseLock = null;
    for (const { sha256 } of sources.value.values()) void engine().plain.forget(sha256);
    record.value = null;
    sources.value = new Map();
    lookedAt.value = null;
    shown.value = null;
    shownState = null;
    piece.value = 0;
    trials.value = {};
    problem.value = null;
    busy.value = null;
    columns.clear();
  }

  // --- running the plan -----------------------------------------------------------------------

  const columns = new Map<number, NoteView>();
  let running: RunningCall<unknown> | null = null;
  /** What mends would do, being worked out on the side. */
  let trying: RunningCall<unknown> | null = null;
  let round = 0;
  /** The state of the plan that is on the screen: a change made on another one is not meant. */
  let shownState: PlanState | null = null;

  function report(done: number, total: number) {
    if (busy.value) busy.value = { ...busy.value, done, total };
  }

  /** Shows what goes on where it takes longer than 300 ms, with a way to give up. */
  async function working<T>(says: string, call: RunningCall<T>): Promise<T | null> {
    running = call;
    const shownAs: Busy = { says, done: 0, total: 1, cancel: call.cancel };
    const timer = setTimeout(() => (busy.value = shownAs), 300);
    try {
      return await call.result;
    } catch (error) {
      problem.value = `Something inside failed: ${(error as Error).message} Save the job as a file, and load the page again.`;
      return null;
    } finally {
      clearTimeout(timer);
      if (running === call) {
        running = null;
        busy.value = null;
      }
    }
  }

  function request(): RunRequest | null {
    const job = record.value;
    const now = plan.value;
    if (!job || !now) return null;
    return {
      sources: sourcesNow.value.map(({ key, sha256, name, sequence }) => ({
        key,
        sha256,
        name,
        ...(sequence === undefined ? {} : { sequence }),
      })),
      target: now.target,
      plan: { ...(now.now.uses ? { uses: now.now.uses } : {}), steps: now.now.steps },
      leftAsIs: now.now.leftAsIs,
      known: [...columns.keys()],
      piece: piece.value,
    };
  }

  function lay(wire: PieceWire): LaidPiece {
    const parts = wire.parts.map((part) => {
      const view = part.columns;
      if (typeof view === 'object') columns.set(view.key, markRaw(view));
      return { ...part, columns: typeof view === 'object' ? view : columns.get(view)! };
    });
    return markRaw({
      ...wire,
      parts,
      clock: makeClock(wire.division, wire.tempos),
      bars: makeBars(wire.division, wire.meters),
    });
  }

  /** Runs the plan again and shows what it comes to; then works out what each mend would do. */
  async function refresh() {
    const asked = request();
    if (!asked || sources.value.size < asked.sources.length) return;
    const mine = ++round;
    const state = plan.value!.now;
    running?.cancel();
    trying?.cancel();
    const view = await working('Holding it against the rules', engine().ask('run', asked, report));
    if (!view || mine !== round) return;
    shownState = state;
    const delivered = lay(view.delivered);
    shown.value = markRaw({
      pieces: view.pieces,
      piece: view.piece,
      delivered,
      source: lay(view.source),
      steps: view.steps,
      findings: view.findings,
      commonShiftMs: view.commonShiftMs,
      changes: view.changes,
      uses: view.uses,
      remarks: view.remarks,
      disagreements: view.disagreements,
    });
    dropColumns();
    trials.value = {};
    const { stops, cautions, remarks } = view.tally;
    void saveTally({ stops, cautions, remarks });
    // On the side, so that nothing that is asked for waits behind it.
    const call = sideEngine().ask('tryMends', { ...asked, known: [] });
    trying = call;
    try {
      const found = await call.result;
      if (found && mine === round) trials.value = markRaw(found);
    } catch (error) {
      if (mine === round)
        problem.value = `What mends would do is not known: ${(error as Error).message}`;
    }
  }

  /** What further steps would come to; nothing is kept of it. */
  async function tryOut(steps: readonly StepCall[]): Promise<TriedOut | null> {
    const asked = request();
    if (!asked) return null;
    const mine = round;
    const plan = { ...asked.plan, steps: [...asked.plan.steps, ...steps.map(keyed)] };
    const call = engine().ask('run', { ...asked, plan }, report);
    const view = await working('Trying it out', call);
    if (!view || mine !== round) return null;
    const shiftMs = view.commonShiftMs - (shown.value?.commonShiftMs ?? 0);
    return { piece: lay(view.delivered), shiftMs };
  }

  /** Keeps the columns that are on the screen. */
  function dropColumns() {
    const used = new Set(
      [...shown.value!.delivered.parts, ...shown.value!.source.parts].map((p) => p.columns.key),
    );
    for (const key of columns.keys()) if (!used.has(key)) columns.delete(key);
  }

  // --- changing and saving --------------------------------------------------------------------

  /** Saves one after the other, the newest last; a job that was removed elsewhere stays removed. */
  let saving: Promise<void> = Promise.resolve();

  function save(next: JobRecord): Promise<void> {
    record.value = next;
    if (readOnly.value) return saving;
    saving = saving.then(async () => {
      try {
        await db.transaction('rw', db.jobs, async () => {
          if ((await db.jobs.where('id').equals(next.id).count()) === 0)
            throw new DOMException('removed', 'NotFoundError');
          await db.jobs.put(next);
        });
        saveProblem.value = null;
      } catch (error) {
        saveProblem.value =
          (error as Error).name === 'NotFoundError'
            ? 'This job was removed in another tab. Save the job as a file to keep it.'
            : storageProblem(error);
      }
    });
    return saving;
  }

  async function saveTally(t: JobRecord['tally']) {
    const job = record.value;
    if (!job || JSON.stringify(job.tally) === JSON.stringify(t)) return;
    await save({ ...job, tally: t });
  }

  /** @param onShown only where the plan is still the one on the screen: a double click is one change */
  function change(did: string, next: Partial<Omit<PlanState, 'did'>>, onShown = false) {
    const job = record.value;
    const now = plan.value;
    if (!job || !now || readOnly.value) return;
    if (onShown && now.now !== shownState) return;
    const state = { ...now.now, ...next, did };
    said.value = did;
    void save({ ...withPlan(job, pushState(now, state)), changedAt: Date.now() });
    void refresh();
  }

  const keyed = (call: StepCall): PlanStep => ({ ...call, key: newKey() });
  const addSteps = (did: string, calls: readonly StepCall[]) =>
    change(did, { steps: [...(plan.value?.now.steps ?? []), ...calls.map(keyed)] });
  const applyMend = (did: string, calls: readonly StepCall[]) =>
    change(did, { steps: [...(plan.value?.now.steps ?? []), ...calls.map(keyed)] }, true);
  const editStep = (key: string, next: StepCall, did: string) =>
    change(did, {
      steps: plan.value!.now.steps.map((s) => (s.key === key ? { ...next, key } : s)),
    });
  const removeStep = (key: string, did: string) =>
    change(did, { steps: plan.value!.now.steps.filter((s) => s.key !== key) });
  const setSteps = (steps: readonly PlanStep[], did: string) => change(did, { steps });
  const leaveAsIs = (key: string, reason: string, title: string) =>
    change(`Leave as is: ${title}`, {
      leftAsIs: [...plan.value!.now.leftAsIs.filter((l) => l.key !== key), { key, reason }],
    });
  const takeBack = (key: string, title: string) =>
    change(`No longer left as is: ${title}`, {
      leftAsIs: plan.value!.now.leftAsIs.filter((l) => l.key !== key),
    });

  function move(to: (plan: TargetPlan) => TargetPlan, word: string) {
    const job = record.value;
    const now = plan.value;
    if (!job || !now || readOnly.value) return;
    const next = to(now);
    if (next === now) return;
    said.value = `${word}: ${word === 'Undone' ? now.now.did : next.now.did}`;
    void save({ ...withPlan(job, next), changedAt: Date.now() });
    void reopen();
  }
  /** A state may have other sources than the one before. */
  async function reopen() {
    await openSources();
    await refresh();
  }
  const undo = () => move(undoState, 'Undone');
  const redo = () => move(redoState, 'Done again');

  /** Mends everything that loses nothing; one undo entry. */
  async function mendAll(losslessOnly: boolean): Promise<void> {
    const asked = request();
    if (!asked || readOnly.value) return;
    const reply = await working(
      'Mending',
      engine().ask('mendAll', { ...asked, losslessOnly }, report),
    );
    if (!reply || reply.applied.length === 0) return;
    // The plan may have changed while it was worked out: then it is another plan's mends.
    if (asked.plan.steps !== plan.value?.now.steps) return;
    const steps = reply.applied.flatMap((a) => a.steps);
    const n = reply.applied.length;
    const { stops, cautions } = reply.remaining;
    addSteps(`Mend what loses nothing (${n})`, steps);
    said.value = `${count(n, 'mend')} applied; ${count(stops, 'stop')} and ${count(cautions, 'caution')} remain.`;
  }

  async function useTarget(next: Target) {
    const job = record.value;
    if (!job) return;
    // The plan stays; what is pinned is the target as it is now.
    const plans = job.plans.some((p) => p.targetId === next.id)
      ? job.plans.map((p) =>
          p.targetId === next.id ? { ...p, target: next, version: next.version } : p,
        )
      : [...job.plans, newPlan(next)];
    await save({ ...job, plans, activeTarget: next.id, changedAt: Date.now() });
    await refresh();
  }

  async function showPiece(index: number) {
    piece.value = index;
    await refresh();
  }

  /** A stretch on the ticks of the piece that is shown, as one on those of the base. */
  const onBase = (scope: Scope): Scope =>
    scopeOnBase(scope, shown.value?.delivered.fromBase ?? undefined);

  async function rename(title: string) {
    const job = record.value;
    if (job && title.trim()) await save({ ...job, title: title.trim(), changedAt: Date.now() });
  }

  /** Other sources, for all plans of the job; undone like any change. */
  async function setSources(next: readonly JobSource[], did: string, uses?: readonly SourceUse[]) {
    const job = record.value;
    if (!job || readOnly.value) return;
    said.value = did;
    problem.value = null;
    await save({ ...withSources(job, next, did, uses), changedAt: Date.now() });
    await reopen();
  }

  /** A newer export of a source: the plan runs again and says what no longer fits. */
  async function replaceSource(sha256: string, name: string, sequence?: number, key?: string) {
    const old = sourcesNow.value.find((f) => f.key === key) ?? sourcesNow.value[0];
    if (!old) return;
    const which = sequence === undefined ? {} : { sequence };
    const next: JobSource = { key: old.key, kind: 'smf', role: 'score', sha256, name, ...which };
    const did =
      sequence === undefined ? `Newer export: ${name}` : `Sequence ${sequence + 1} of ${name}`;
    await setSources(
      sourcesNow.value.map((f) => (f === old ? next : f)),
      did,
    );
  }

  /** A further source beside those that are there; the one that ruled goes on ruling. */
  async function addSource(sha256: string, name: string) {
    const ruling = shown.value?.uses.find((u) => u.rules)?.source ?? sourcesNow.value[0]!.key;
    const next: JobSource = { key: newKey(), kind: 'smf', role: 'score', sha256, name };
    await setSources([...sourcesNow.value, next], `Further source: ${name}`, [
      ...(plan.value?.now.uses ?? []).filter((u) => u.source !== ruling),
      {
        as: 'together',
        ...plan.value?.now.uses?.find((u) => u.source === ruling),
        source: ruling,
        rules: true,
      },
    ]);
  }

  async function removeSource(key: string) {
    const gone = sourcesNow.value.find((f) => f.key === key);
    if (!gone || sourcesNow.value.length < 2) return;
    await setSources(
      sourcesNow.value.filter((f) => f !== gone),
      `Without ${gone.name}`,
      plan.value?.now.uses?.filter((u) => u.source !== key),
    );
  }

  /** How a source takes part. What is not said stays as it is. */
  function useSource(key: string, next: Partial<Omit<SourceUse, 'source'>>, did: string) {
    const now = shown.value?.uses ?? [];
    const said = plan.value?.now.uses ?? [];
    const uses = now.map(({ source: of, as, follows, offset, rules }): SourceUse => {
      const use = { source: of, as, follows, offset, rules };
      const place = said.find((u) => u.source === of)?.place;
      const whole = place === undefined ? use : { ...use, place };
      if (of === key) return { ...whole, ...next };
      // One rules alone.
      return next.rules ? { ...whole, rules: false } : whole;
    });
    change(did, { uses });
  }

  function useRecipe(recipe: { plan: Plan; leftAsIs: PlanState['leftAsIs']; name: string }) {
    change(`Recipe: ${recipe.name}`, {
      steps: recipe.plan.steps.map((s) => ({ ...s, key: newKey() })),
      leftAsIs: recipe.leftAsIs,
    });
  }

  async function countHandover(): Promise<number> {
    const job = record.value!;
    const now = plan.value!;
    const number = now.handovers + 1;
    await save({ ...withPlan(job, { ...now, handovers: number }), changedAt: Date.now() });
    return number;
  }

  return {
    record,
    source,
    sources,
    sourcesNow,
    lookedAt,
    shown,
    trials,
    busy,
    problem,
    saveProblem,
    readOnly,
    missing,
    said,
    plan,
    target,
    findings,
    findingsHere,
    rankedMends,
    tally,
    losslessCount,
    open,
    close,
    refresh,
    request,
    working,
    report,
    tryOut,
    addSteps,
    applyMend,
    editStep,
    removeStep,
    setSteps,
    leaveAsIs,
    takeBack,
    undo,
    redo,
    mendAll,
    useTarget,
    showPiece,
    onBase,
    rename,
    replaceSource,
    addSource,
    removeSource,
    useSource,
    useRecipe,
    countHandover,
  };
});
