import { refOf, whichKey, whichOf } from '../../../core/sources/which';
import type { MusicView } from '../../../core/wire/music';
import type { Figures } from '../../../core/compare/say-figures';
import { computed, markRaw, ref, shallowRef } from 'vue';
import type { Disagreement } from '../../../core/sources/disagree';
import { withSteps } from '../../../core/plan/made-by';
import type { StepCall } from '../../../core/steps/call';
import type { Target } from '../../../core/target/schema';
import { makeClock } from '../../../core/time/tempo-map';
import { makeBars } from '../../../core/score/score';
import type { MeterMap } from '../../../core/time/meter-map';
import type {
  NoteView,
  PieceView,
  PieceWire,
  SourceView,
  TurnsView,
} from '../../../core/wire/view';
import type { RunningCall } from '../../../worker/client';
import type {
  FindingView,
  MendTrialView,
  PieceFile,
  RunRequest,
  StepView,
  UseView,
} from '../../../worker/run-protocol';
import { db, openingOf } from '../../storage/db';
import { companionName } from '../../../core/target/sound';
import type { HeardSound } from '../../../core/sound/beside';
import { jobTally, newKey, type JobRecord, type PlanState } from '../../storage/job';
import { sayFailure } from '../../kit/say-failure';
import { engine, forgetSource, sideEngine } from '../engine';
import type { JobDocument } from './document';

/** A piece with its maps, ready to be drawn. */
export interface LaidPiece extends PieceView {
  readonly clock: ReturnType<typeof makeClock>;
  readonly bars: MeterMap;
}

export interface Shown {
  /** The files of the delivery, of which one is on the sheet. */
  readonly pieces: readonly PieceFile[];
  readonly piece: number;
  readonly delivered: LaidPiece;
  readonly source: LaidPiece;
  readonly steps: readonly StepView[];
  readonly findings: readonly FindingView[];
  readonly commonShiftMs: number;
  readonly changes: readonly string[];
  /** What a listener follows of the source in it. */
  readonly figures: Figures;
  readonly music: MusicView;
  readonly uses: readonly UseView[];
  readonly remarks: readonly string[];
  readonly disagreements: readonly Disagreement[];
}

/** What further steps would come to, and by how much all would move. */
export interface TriedOut {
  readonly piece: LaidPiece;
  readonly shiftMs: number;
}

export interface Busy {
  says: string;
  done: number;
  total: number;
  cancel: () => void;
}

/** The session: what the document comes to, worked out by the engine and drawn from. */
export function makeSession(doc: JobDocument) {
  /** What came in, by the key of its source. */
  const sources = shallowRef<ReadonlyMap<string, SourceView>>(new Map());
  const shown = shallowRef<Shown | null>(null);
  const trials = shallowRef<Readonly<Record<string, readonly MendTrialView[]>>>({});
  const busy = ref<Busy | null>(null);
  const problem = ref<string | null>(null);
  /** What failed inside, until the next that succeeds. */
  const failure = ref<string | null>(null);
  /** Which file of the delivery is on the sheet. */
  const piece = ref(0);
  /** Calls whose answer the screen waits for. */
  const open = ref(0);
  /** How often the screen was made anew from the plan. */
  const revision = ref(0);
  const idle = computed(() => open.value === 0 && doc.unsaved.value === 0);

  /** What was heard in the recording, by what its bytes are. */
  let heard: { readonly sha256: string; readonly heard: HeardSound } | null = null;
  const columns = new Map<number, NoteView | TurnsView>();
  /** What the screen waits for; each is let go when it is left. */
  const going = new Set<RunningCall<unknown>>();
  /** The plan being run: the next run takes its place. Nothing else does. */
  let viewing: RunningCall<unknown> | null = null;
  /** What mends would do, being worked out on the side. */
  let trying: RunningCall<unknown> | null = null;
  let round = 0;
  /** What is on the screen was worked out of this: a change made on another state is not meant. */
  const shownOf = shallowRef<{ readonly state: PlanState; readonly target: Target } | null>(null);
  /** Runs of the plan that are under way. */
  const runs = ref(0);
  /**
   * How the screen stands to the plan: `current`, on its way to it, or `stopped` where it was given up
   * or failed before it was worked out. What is stopped judges nothing and offers nothing.
   */
  const standing = computed<'current' | 'running' | 'stopped'>(() => {
    const now = doc.plan.value;
    const of = shownOf.value;
    if (!now || (of && of.state === now.now && of.target === now.target)) return 'current';
    return runs.value > 0 ? 'running' : 'stopped';
  });

  /** Opens what the plan names and is not open yet; forgets what it names no more. */
  async function openSources(): Promise<void> {
    const next = new Map<string, SourceView>();
    for (const asked of doc.sourcesNow.value) {
      const { key, sha256, name } = asked;
      const known = sources.value.get(key);
      if (known?.sha256 === sha256 && known.asked === whichKey(asked)) {
        next.set(key, known);
        continue;
      }
      const stored = await db.sources.get(sha256);
      if (!stored) {
        problem.value = `The bytes of ${name} are no longer in the browser. Drop the file again.`;
        continue;
      }
      const reply = await working(
        `Reading ${name}`,
        engine().open({ ...(await openingOf(stored, name)), ...whichOf(asked) }, report),
      );
      if (!reply) return;
      if (reply.ok) next.set(key, markRaw({ ...reply.source, asked: whichKey(asked) }));
      else problem.value = `${name}: ${reply.problems.join(' ')}`;
    }
    const kept = new Set([...next.values()].map((v) => v.sha256));
    for (const { sha256 } of sources.value.values()) if (!kept.has(sha256)) forgetSource(sha256);
    sources.value = next;
  }

  function report(done: number, total: number) {
    if (busy.value) busy.value = { ...busy.value, done, total };
  }

  /** Counts a call as open until it is answered. */
  async function waitedFor<T>(result: Promise<T>): Promise<T> {
    open.value++;
    try {
      return await result;
    } finally {
      open.value--;
    }
  }

  /** Shows what goes on where it takes longer than 300 ms, with a way to give up. */
  async function working<T>(says: string, call: RunningCall<T>): Promise<T | null> {
    going.add(call);
    const shownAs: Busy = { says, done: 0, total: 1, cancel: call.cancel };
    const timer = setTimeout(() => (busy.value = shownAs), 300);
    try {
      return await waitedFor(call.result);
    } catch (error) {
      failure.value = sayFailure(error);
      return null;
    } finally {
      clearTimeout(timer);
      going.delete(call);
      if (busy.value?.cancel === call.cancel) busy.value = null;
    }
  }

  function request(): RunRequest | null {
    const now = doc.plan.value;
    if (!now) return null;
    return {
      sources: doc.sourcesNow.value.map(refOf),
      target: now.target,
      plan: { ...(now.now.uses ? { uses: now.now.uses } : {}), steps: now.now.steps },
      leftAsIs: now.now.leftAsIs,
      known: [...columns.keys()],
      piece: piece.value,
      ...besideOf(doc.record.value?.sound),
    };
  }

  function besideOf(sound: JobRecord['sound']) {
    if (!sound) return {};
    const { ms, name, sha256 } = sound;
    return {
      recordingMs: ms,
      soundName: companionName(name),
      ...(heard?.sha256 === sha256 ? { heard: heard.heard, soundSha: sha256 } : {}),
    };
  }

  function lay(wire: PieceWire): LaidPiece {
    const parts = wire.parts.map((part) => {
      const kept = <V extends NoteView | TurnsView>(view: V | number): V => {
        if (typeof view === 'number') return columns.get(view) as V;
        columns.set(view.key, markRaw(view));
        return view;
      };
      return {
        ...part,
        columns: kept(part.columns),
        turns: part.turns === null ? null : kept(part.turns),
      };
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
    const state = doc.plan.value!.now;
    viewing?.cancel();
    trying?.cancel();
    const call = engine().ask('run', asked, report);
    viewing = call;
    runs.value++;
    const view = await working('Holding it against the rules', call).finally(() => runs.value--);
    if (mine !== round) return;
    if (!view) return void doc.saveTally(null);
    // Of the same plan mends stay what they were until they are worked out anew.
    trials.value = shownOf.value?.state === state ? stillTrue(view.findings) : {};
    shownOf.value = { state, target: asked.target };
    failure.value = null;
    const { delivered, source, tally, ...rest } = view;
    shown.value = markRaw({ ...rest, delivered: lay(delivered), source: lay(source) });
    dropColumns();
    revision.value++;
    void doc.saveTally(jobTally(tally, view.kept, view.choices, view.figures));
    await tryMends(asked, mine);
  }

  const stillTrue = (findings: readonly FindingView[]) => {
    const found = findings.flatMap(({ key, mends }) => {
      const tried = trials.value[key];
      return tried?.length === mends.length ? [[key, tried] as const] : [];
    });
    return Object.fromEntries(found);
  };

  /** On the side, so that nothing that is asked for waits behind it. */
  async function tryMends(asked: RunRequest, mine: number) {
    const call = sideEngine().ask('tryMends', { ...asked, known: [] });
    trying = call;
    try {
      const found = await waitedFor(call.result);
      if (found && mine === round) trials.value = markRaw(found);
    } catch (error) {
      if (mine === round) failure.value = sayFailure(error);
    }
  }

  /** What further steps would come to; nothing is kept of it. */
  async function tryOut(steps: readonly StepCall[]): Promise<TriedOut | null> {
    const asked = request();
    if (!asked) return null;
    const mine = round;
    const further = steps.map((call) => ({ ...call, key: newKey() }));
    const plan = { ...asked.plan, steps: withSteps(asked.plan.steps, further) };
    const call = engine().ask('run', { ...asked, plan }, report);
    const view = await working('Trying it out', call);
    if (!view || mine !== round) return null;
    const shiftMs = view.commonShiftMs - (shown.value?.commonShiftMs ?? 0);
    return { piece: lay(view.delivered), shiftMs };
  }

  /** The same on the side, for a small picture: nothing is said, and nothing waits for it. */
  async function peek(steps: readonly StepCall[]): Promise<TriedOut | null> {
    const asked = request();
    if (!asked) return null;
    const mine = round;
    const further = steps.map((call) => ({ ...call, key: newKey() }));
    const plan = { ...asked.plan, steps: withSteps(asked.plan.steps, further) };
    const call = sideEngine().ask('run', { ...asked, plan, known: [] });
    const view = await call.result.catch(() => null);
    if (!view || mine !== round) return null;
    return {
      piece: lay(view.delivered),
      shiftMs: view.commonShiftMs - (shown.value?.commonShiftMs ?? 0),
    };
  }

  /** Keeps the columns that are on the screen. */
  function dropColumns() {
    const used = new Set(
      [...shown.value!.delivered.parts, ...shown.value!.source.parts].flatMap((p) => [
        p.columns.key,
        ...(p.turns ? [p.turns.key] : []),
      ]),
    );
    for (const key of columns.keys()) if (!used.has(key)) columns.delete(key);
  }

  /** A state may have other sources than the one before. */
  async function reopen() {
    runs.value++;
    await openSources().finally(() => runs.value--);
    await refresh();
  }

  async function showPiece(index: number) {
    piece.value = index;
    await refresh();
  }

  /** Lets go of everything that was worked out. */
  function dispose() {
    round++;
    for (const call of going) call.cancel();
    trying?.cancel();
    for (const { sha256 } of sources.value.values()) forgetSource(sha256);
    sources.value = new Map();
    shown.value = null;
    shownOf.value = null;
    piece.value = 0;
    trials.value = {};
    problem.value = null;
    failure.value = null;
    busy.value = null;
    columns.clear();
  }

  return {
    sources,
    shown,
    trials,
    busy,
    problem,
    piece,
    revision,
    idle,
    request,
    working,
    report,
    refresh,
    reopen,
    tryOut,
    peek,
    showPiece,
    hear: (next: NonNullable<typeof heard>) => (heard = next),
    /** Whether the plan is still the one that is on the screen. */
    /** Gives up what the screen waits for, as its button does. */
    giveUp: () => viewing?.cancel(),
    isShown: (state: PlanState) => state === shownOf.value?.state,
    standing,
    failure,
    dispose,
  };
}

export type JobSession = ReturnType<typeof makeSession>;
