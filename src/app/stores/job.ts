import { defineStore } from 'pinia';
import { computed, markRaw, ref, shallowRef } from 'vue';
import type { Plan, PlanStep, StepCall } from '../../core/plan/model';
import type { Target } from '../../core/target/schema';
import { makeClock } from '../../core/time/tempo-map';
import { makeBars } from '../../core/score/score';
import type { MeterMap } from '../../core/time/meter-map';
import type { NoteView, PieceView, PieceWire, SourceView } from '../../core/wire/view';
import type { RunningCall } from '../../worker/client';
import type { FindingView, MendTrialView, RunRequest, StepView } from '../../worker/protocol';
import { db, storageProblem } from '../storage/db';
import {
  activePlan,
  newKey,
  newPlan,
  pushState,
  redoState,
  undoState,
  withPlan,
  type JobRecord,
  type PlanState,
  type TargetPlan,
} from '../storage/job';
import { engine } from './engine';

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
  const source = shallowRef<SourceView | null>(null);
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

  /** The best mend first: one that loses nothing, then the one that changes the fewest notes. */
  function rankedMends({ key, mends }: Pick<FindingView, 'key' | 'mends'>) {
    const list = mends.map((mend, i) => ({ mend, i }));
    const tried = trials.value[key];
    if (!tried || tried.length < list.length) return list;
    const cost = (i: number) => {
      const { refused, lossless, notesTouched } = tried[i]!;
      return refused ? Number.MAX_VALUE : (lossless ? 0 : 1e9) + notesTouched;
    };
    return list.sort((a, b) => cost(a.i) - cost(b.i) || a.i - b.i);
  }

  // --- opening and the lock -------------------------------------------------------------------

  let releaseLock: (() => void) | null = null;

  function takeLock(id: string) {
    releaseLock?.();
    readOnly.value = false;
    if (!navigator.locks) return;
    const name = `wary-quill:${id}`;
    const hold = () => new Promise<void>((resolve) => (releaseLock = resolve));
    void navigator.locks.request(name, { ifAvailable: true }, async (lock) => {
      if (lock) return hold();
      readOnly.value = true;
      // When the other tab lets go, this one reads what was saved there and may write.
      const waiting = new AbortController();
      releaseLock = () => waiting.abort();
      navigator.locks
        .request(name, { signal: waiting.signal }, async () => {
          const held = hold();
          const saved = await db.jobs.get(id);
          if (saved && record.value?.id === id) record.value = saved;
          readOnly.value = false;
          void refresh();
          return held;
        })
        .catch(() => undefined); // given up: the job was closed first
    });
  }

  async function open(id: string) {
    close();
    missing.value = false;
    let row: JobRecord | undefined;
    try {
      row = await db.jobs.get(id);
    } catch (error) {
      problem.value = storageProblem(error);
      return;
    }
    if (!row) {
      missing.value = true;
      return;
    }
    takeLock(id);
    record.value = row;
    await openSourceOf(row);
    await refresh();
  }

  async function openSourceOf(row: JobRecord) {
    const { sha256, name, sequence } = row.sources[0]!;
    const stored = await db.sources.get(sha256);
    if (!stored) {
      problem.value = `The bytes of ${name} are no longer in the browser. Drop the file again.`;
      return;
    }
    const reply = await working(
      `Reading ${name}`,
      engine().open(
        { bytes: stored.bytes, name, ...(sequence === undefined ? {} : { sequence }) },
        report,
      ),
    );
    if (!reply) return;
    if (reply.ok) source.value = markRaw(reply.source);
    else problem.value = reply.problems.join(' ');
  }

  function close() {
    running?.cancel();
    releaseLock?.();
    releaseLock = null;
    record.value = null;
    source.value = null;
    shown.value = null;
    piece.value = 0;
    trials.value = {};
    problem.value = null;
    busy.value = null;
    columns.clear();
  }

  // --- running the plan -----------------------------------------------------------------------

  const columns = new Map<number, NoteView>();
  let running: RunningCall<unknown> | null = null;
  let round = 0;

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
    const { sha256, name, sequence } = job.sources[0]!;
    return {
      sha256,
      name,
      ...(sequence === undefined ? {} : { sequence }),
      target: now.target,
      plan: { steps: now.now.steps },
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
    if (!asked || !source.value) return;
    const mine = ++round;
    running?.cancel();
    const view = await working('Holding it against the rules', engine().ask('run', asked, report));
    if (!view || mine !== round) return;
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
    });
    dropColumns();
    trials.value = {};
    const { stops, cautions, remarks } = view.tally;
    void saveTally({ stops, cautions, remarks });
    const found = await engine().ask('tryMends', { ...asked, known: [] }).result;
    if (found && mine === round) trials.value = markRaw(found);
  }

  /** What further steps would come to; nothing is kept of it. */
  async function tryOut(steps: readonly StepCall[]): Promise<TriedOut | null> {
    const asked = request();
    if (!asked) return null;
    const plan = { steps: [...asked.plan.steps, ...steps.map(keyed)] };
    const call = engine().ask('run', { ...asked, plan }, report);
    const view = await working('Trying it out', call);
    if (!view) return null;
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

  async function save(next: JobRecord) {
    record.value = next;
    if (readOnly.value) return;
    try {
      await db.jobs.put(next);
      saveProblem.value = null;
    } catch (error) {
      saveProblem.value = storageProblem(error);
    }
  }

  async function saveTally(t: JobRecord['tally']) {
    const job = record.value;
    if (!job || JSON.stringify(job.tally) === JSON.stringify(t)) return;
    await save({ ...job, tally: t });
  }

  function change(did: string, next: Partial<Omit<PlanState, 'did'>>) {
    const job = record.value;
    const now = plan.value;
    if (!job || !now || readOnly.value) return;
    const state = { ...now.now, ...next, did };
    said.value = did;
    void save({ ...withPlan(job, pushState(now, state)), changedAt: Date.now() });
    void refresh();
  }

  const keyed = (call: StepCall): PlanStep => ({ ...call, key: newKey() });
  const addSteps = (did: string, calls: readonly StepCall[]) =>
    change(did, { steps: [...(plan.value?.now.steps ?? []), ...calls.map(keyed)] });
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
    void refresh();
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
    const steps = reply.applied.flatMap((a) => a.steps);
    const n = reply.applied.length;
    const { stops, cautions } = reply.remaining;
    addSteps(`Mend what loses nothing (${n})`, steps);
    said.value = `${n} ${n === 1 ? 'mend' : 'mends'} applied; ${stops} stops and ${cautions} cautions remain.`;
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

  async function rename(title: string) {
    const job = record.value;
    if (job && title.trim()) await save({ ...job, title: title.trim(), changedAt: Date.now() });
  }

  /** A newer export of the same song: the plan runs again and says what no longer fits. */
  async function replaceSource(sha256: string, name: string, sequence?: number) {
    const job = record.value;
    if (!job || readOnly.value) return;
    const next = { ...job.sources[0]!, sha256, name };
    delete (next as { sequence?: number }).sequence;
    const chosen = sequence === undefined ? next : { ...next, sequence };
    await save({
      ...job,
      sources: [chosen, ...job.sources.slice(1)],
      changedAt: Date.now(),
    });
    source.value = null;
    problem.value = null;
    await openSourceOf(record.value!);
    await refresh();
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
    rename,
    replaceSource,
    useRecipe,
    countHandover,
  };
});
