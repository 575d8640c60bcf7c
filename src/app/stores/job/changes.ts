import type { ModuleChoices } from '../../../core/sources/module/choices';
import { whichOf } from '../../../core/sources/which';
import type { MendReach } from '../../../core/plan/mend';
import { withSteps } from '../../../core/plan/made-by';
import type { PlanStep, Recipe } from '../../../core/plan/plan';
import { recipeFor } from '../../../core/plan/use-recipe';
import type { JobSource } from '../../../core/plan/job-file';
import type { SourceUse } from '../../../core/sources/use';
import type { StepCall } from '../../../core/steps/call';
import { count } from '../../../core/target/words';
import {
  newKey,
  pushState,
  redoState,
  undoState,
  withPlan,
  withSources,
  type PlanState,
  type TargetPlan,
} from '../../storage/job';
import { engine, sideEngine } from '../engine';
import type { JobDocument } from './document';
import type { JobSession } from './session';

/** Puts what is in the hand into the plan; null where nothing is. */
type PutIn = () => Promise<unknown> | null;

/** Every way to change the plan of a job; each is one state that undo comes back from. */
export function makeChanges(doc: JobDocument, session: JobSession, say: (did: string) => void) {
  const keyed = (call: StepCall): PlanStep => ({ ...call, key: newKey() });
  const steps = () => doc.plan.value?.now.steps ?? [];
  const left = () => doc.plan.value?.now.leftAsIs ?? [];

  /** @param onShown only where the plan is still the one on the screen: a double click is one change */
  function change(did: string, next: Partial<Omit<PlanState, 'did'>>, onShown = false) {
    const job = doc.record.value;
    const now = doc.plan.value;
    if (!job || !now || doc.readOnly.value) return;
    if (onShown && !session.isShown(now.now)) return;
    const state = { ...now.now, ...next, did };
    say(did);
    void doc.save({ ...withPlan(job, pushState(now, state)), changedAt: Date.now() });
    void session.refresh();
  }

  /** What was added last, while the screen does not show it yet. */
  let added: { readonly print: string; readonly state: PlanState } | null = null;
  function addSteps(did: string, calls: readonly StepCall[]) {
    const now = doc.plan.value?.now;
    const print = JSON.stringify(calls);
    // The same again before its effect is on the screen is a click too many.
    if (now && added?.print === print && added.state === now && !session.isShown(now)) return;
    change(did, { steps: withSteps(steps(), calls.map(keyed)) });
    const after = doc.plan.value?.now;
    added = after && after !== now ? { print, state: after } : null;
  }
  const applyMend = (did: string, calls: readonly StepCall[]) =>
    change(did, { steps: withSteps(steps(), calls.map(keyed)) }, true);
  const editStep = (key: string, next: StepCall, did: string) =>
    change(did, { steps: steps().map((s) => (s.key === key ? { ...next, key } : s)) });

  /**
   * What a gesture at a desk does: each call takes the place of the last step of its kinds for the
   * same parts, where none behind that one concerns them; else it stands at the end.
   * @param kinds steps that do one thing in several ways; a call that is none of them is of its own
   */
  function upsertSteps(did: string, calls: readonly StepCall[], kinds: readonly string[]) {
    let next = steps();
    for (const call of calls) {
      const [ref] = call.scope.parts ?? [];
      const own = kinds.includes(call.step) ? kinds : [call.step];
      const concerned = ({ step, scope }: PlanStep) =>
        own.includes(step) &&
        (!scope.parts || scope.parts.some((p) => JSON.stringify(p) === JSON.stringify(ref)));
      const last = next.findLast(concerned);
      const same = last && JSON.stringify(last.scope) === JSON.stringify(call.scope);
      next = same
        ? next.map((s) => (s === last ? { ...call, key: s.key } : s))
        : withSteps(next, [keyed(call)]);
    }
    change(did, { steps: next });
  }
  const removeStep = (key: string, did: string) =>
    change(did, { steps: steps().filter((s) => s.key !== key) });
  const setSteps = (next: readonly PlanStep[], did: string) => change(did, { steps: next });
  const leaveAsIs = (key: string, reason: string, title: string) =>
    change(`Leave as is: ${title}`, {
      leftAsIs: [...left().filter((l) => l.key !== key), { key, reason }],
    });
  const takeBack = (key: string, title: string) =>
    change(`No longer left as is: ${title}`, { leftAsIs: left().filter((l) => l.key !== key) });

  /** A recipe says how sources are placed, which one alone has no use for. */
  function useRecipe(recipe: Recipe) {
    const before = doc.plan.value?.now;
    if (before?.did === `Recipe: ${recipe.name}` && !session.isShown(before)) return;
    const { steps, uses } = recipeFor(recipe, doc.sourcesNow.value);
    change(`Recipe: ${recipe.name}`, {
      steps: steps.map((s) => ({ ...s, key: newKey() })),
      ...(uses && doc.sourcesNow.value.length > 1 ? { uses } : {}),
      leftAsIs: recipe.leftAsIs,
    });
  }

  function move(to: (plan: TargetPlan) => TargetPlan, word: string) {
    const job = doc.record.value;
    const now = doc.plan.value;
    if (!job || !now || doc.readOnly.value) return;
    const next = to(now);
    if (next === now) return;
    say(`${word}: ${word === 'Undone' ? now.now.did : next.now.did}`);
    void doc.save({ ...withPlan(job, next), changedAt: Date.now() });
    void session.reopen();
  }
  /** What is in the hand goes into the plan before it is moved: it is undone first. */
  const inHand = new Set<PutIn>();
  function whenAllIsIn(does: () => void) {
    const going = [...inHand].map((putIn) => putIn()).filter((p) => p !== null);
    if (going.length === 0) return does();
    const still = doc.record.value?.id;
    void Promise.all(going).then(() => {
      if (doc.record.value?.id === still) does();
    });
  }
  const undo = () => whenAllIsIn(() => move(undoState, 'Undone'));
  const redo = () => whenAllIsIn(() => move(redoState, 'Done again'));

  /** What each reach of mending would come to, worked out on the side. */
  function reachesOf(accept: boolean) {
    const asked = session.request();
    return asked && sideEngine().ask('reaches', { ...asked, known: [], accept });
  }

  const REACH_WORDS: Readonly<Record<MendReach, string>> = {
    lossless: 'Mend what loses nothing',
    keep: 'Mend what keeps every note',
    drop: 'Mend everything',
  };

  /** Mends as far as it may; one undo entry. */
  async function mendAll(reach: MendReach, accept = false): Promise<void> {
    const asked = session.request();
    if (!asked || doc.readOnly.value) return;
    const reply = await session.working(
      'Mending',
      engine().ask('mendAll', { ...asked, reach, accept }, session.report),
    );
    if (!reply || reply.applied.length === 0) return;
    // The plan may have changed while it was worked out: then it is another plan's mends.
    if (asked.plan.steps !== doc.plan.value?.now.steps)
      return say('The plan was changed meanwhile: nothing was mended.');
    const n = reply.applied.length;
    const { stops, cautions } = reply.remaining;
    addSteps(
      `${REACH_WORDS[reach]} (${n})`,
      reply.applied.flatMap((a) => a.steps),
    );
    say(
      `${count(n, 'mend')} applied; ${count(stops, 'stop')} and ${count(cautions, 'caution')} remain.`,
    );
  }

  // --- sources --------------------------------------------------------------------------------

  /** Other sources, for all plans of the job; undone like any change. */
  async function setSources(next: readonly JobSource[], did: string, uses?: readonly SourceUse[]) {
    const job = doc.record.value;
    if (!job || doc.readOnly.value) return;
    say(did);
    session.problem.value = null;
    const saved = doc.save({ ...withSources(job, next, did, uses), changedAt: Date.now() });
    await session.reopen();
    await saved;
  }

  /** A newer export of a source: the plan runs again and says what no longer fits. */
  async function replaceSource(sha256: string, name: string, sequence?: number, key?: string) {
    const now = doc.sourcesNow.value;
    const old = now.find((f) => f.key === key) ?? now[0];
    if (!old) return;
    const next: JobSource = {
      key: old.key,
      kind: 'smf',
      role: 'score',
      sha256,
      name,
      ...whichOf({ sequence: sequence ?? old.sequence, reading: old.reading }),
    };
    const did =
      sequence === undefined ? `Newer export: ${name}` : `Number ${sequence + 1} of ${name}`;
    await setSources(
      now.map((f) => (f === old ? next : f)),
      did,
    );
  }

  /** A module is read otherwise: the plan runs again on what its notes are then. */
  async function readModule(key: string, reading: ModuleChoices, did: string) {
    await setSources(
      doc.sourcesNow.value.map((f) => {
        if (f.key !== key) return f;
        const { kind, role, sha256, name, sequence } = f;
        return { key, kind, role, sha256, name, ...whichOf({ sequence, reading }) };
      }),
      did,
    );
  }

  /** Further sources beside those that are there, one change however many they are; the one that ruled goes on ruling. */
  async function addSources(read: readonly { readonly sha256: string; readonly name: string }[]) {
    if (read.length === 0) return;
    const now = doc.sourcesNow.value;
    const said = doc.plan.value?.now.uses ?? [];
    const ruling = session.shown.value?.uses.find((u) => u.rules)?.source ?? now[0]!.key;
    const next = read.map(({ sha256, name }): JobSource => ({
      key: newKey(),
      kind: 'smf',
      role: 'score',
      sha256,
      name,
    }));
    // Where places are files each source is one of them; Intake brings them together again.
    const seats = doc.target.value?.seats ?? [];
    const ofTheirOwn = seats.length > 0 && seats.every((s) => s.kind === 'file');
    await setSources(
      [...now, ...next],
      next.length === 1 ? `Further source: ${next[0]!.name}` : `${next.length} further sources`,
      [
        ...said.filter((u) => u.source !== ruling),
        { as: 'together', ...said.find((u) => u.source === ruling), source: ruling, rules: true },
        ...(ofTheirOwn ? next.map(({ key }) => ({ source: key, as: 'file' as const })) : []),
      ],
    );
  }

  async function removeSource(key: string) {
    const now = doc.sourcesNow.value;
    const gone = now.find((f) => f.key === key);
    if (!gone || now.length < 2) return;
    await setSources(
      now.filter((f) => f !== gone),
      `Without ${gone.name}`,
      doc.plan.value?.now.uses?.filter((u) => u.source !== key),
    );
  }

  /** How a source takes part. What is not said stays as it is. */
  function useSource(key: string, next: Partial<Omit<SourceUse, 'source'>>, did: string) {
    const said = doc.plan.value?.now.uses ?? [];
    const uses = (session.shown.value?.uses ?? []).map(
      ({ source: of, as, follows, offset, rules }): SourceUse => {
        const use = { source: of, as, follows, offset, rules };
        const place = said.find((u) => u.source === of)?.place;
        const whole = place === undefined ? use : { ...use, place };
        if (of === key) return { ...whole, ...next };
        // One rules alone.
        return next.rules ? { ...whole, rules: false } : whole;
      },
    );
    change(did, { uses });
  }

  return {
    addSteps,
    applyMend,
    editStep,
    upsertSteps,
    removeStep,
    setSteps,
    leaveAsIs,
    takeBack,
    useRecipe,
    undo,
    redo,
    putInFirst: (putIn: PutIn) => inHand.add(putIn),
    mendAll,
    reachesOf,
    replaceSource,
    readModule,
    addSources,
    removeSource,
    useSource,
  };
}
