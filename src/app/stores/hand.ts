import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue';
import type { NoteAddress } from '../../core/score/address';
import { madeBy, MAKE_LEVELS } from '../../core/plan/made-by';
import type { PlanStep } from '../../core/plan/plan';
import type { HandEdit, HandNote } from '../../core/steps/by-hand';
import { count } from '../../core/target/words';
import { mapTick, unmapTick } from '../../core/time/time-map';
import { NOTHING_PENDING, type Pending } from '../close-up/draw';
import { engine } from './engine';
import { touchLevels } from './hand-levels';
import { useJob, type LaidPiece } from './job';
import { defineJobPart } from './job/job-part';
import { useLooking } from './looking';

interface HandParams {
  readonly edits?: readonly HandEdit[];
  readonly drawn?: readonly HandNote[];
}

const BY_HAND = 'by-hand';
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** The tick that is so much later on the clock. */
const laterOnClock = ({ clock }: LaidPiece, tick: number, us: number): number =>
  us === 0 ? tick : clock.tickAt(clock.msAt(tick) + us / 1000);

/** Adds what is done now to what was done before; what comes to nothing says nothing. */
const summed = (before: HandEdit, more: Partial<Pending> & { gone?: boolean }): HandEdit => {
  const sum = { ...before };
  for (const key of ['ticks', 'semitones', 'longerTicks', 'louder', 'us'] as const) {
    const value = (before[key] ?? 0) + (more[key] ?? 0);
    if (value === 0) delete sum[key];
    else sum[key] = value;
  }
  return more.gone ? { note: before.note, gone: true } : sum;
};

const both = (a: Pending, b: Partial<Pending>): Pending => ({
  ticks: a.ticks + (b.ticks ?? 0),
  semitones: a.semitones + (b.semitones ?? 0),
  longerTicks: a.longerTicks + (b.longerTicks ?? 0),
  louder: a.louder + (b.louder ?? 0),
  us: a.us + (b.us ?? 0),
});

/** The longest that a change of the hand may wait before it is in the plan. */
const MOST_MS = 1000;

/** Notes changed by hand in the close-up: all that is done in one sitting is one step. */
export const useHand = defineJobPart(() => {
  const job = useJob();
  const looking = useLooking();
  const open = ref(false);
  /** Where the close-up was opened, or is asked to go; counted, so that the same tick counts. */
  const at = shallowRef({ tick: 0, n: 0 });
  /** What is done to the chosen notes and is not in the plan yet. */
  const pending = shallowRef<Pending>(NOTHING_PENDING);
  /** What is on its way into the plan and not on the screen yet, and for which notes. */
  const underway = shallowRef<{ readonly ids: ReadonlySet<number>; readonly what: Pending } | null>(
    null,
  );
  const preview = computed(() =>
    underway.value?.ids === looking.chosen
      ? both(pending.value, underway.value.what)
      : pending.value,
  );
  const problem = ref<string | null>(null);
  /** Key of the step of this sitting. */
  const sitting = ref<string | null>(null);
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** When the first of what is pending was done. */
  let begun: number | null = null;
  let writing: Promise<unknown> = Promise.resolve();
  /** Changes that are on their way into the plan. */
  const sending = ref(0);

  /** The step of this sitting, as long as nothing that it would change stands behind it. */
  const step = computed(() => {
    const steps = job.plan?.now.steps ?? [];
    const levels = steps.findIndex((s) => s.step === MAKE_LEVELS);
    const last = levels < 0 ? steps.at(-1) : steps[levels - 1];
    return last && last.key === sitting.value && last.on ? last : null;
  });

  /** What is done from here on is a step of its own. */
  function beginSitting() {
    void flush();
    sitting.value = null;
  }

  function toggle(tick = 0) {
    if (open.value) return close();
    open.value = true;
    sitting.value = null;
    show(tick);
  }
  function show(tick: number) {
    at.value = { tick, n: at.value.n + 1 };
  }
  /** Answers when all that was done is in the plan: only then may the job be left. */
  function close(): Promise<unknown> {
    const done = flush();
    open.value = false;
    sitting.value = null;
    return done;
  }
  onScopeDispose(() => clearTimeout(timer));

  /** Does something to the chosen notes; several in a row become one change. */
  function nudge(more: Partial<Pending>) {
    if (looking.chosen.size === 0 || job.readOnly) return;
    pending.value = both(pending.value, more);
    clearTimeout(timer);
    // What is done in a row is one change; none waits longer than a second for it.
    begun ??= performance.now();
    const left = MOST_MS - (performance.now() - begun);
    timer = setTimeout(() => void flush(), Math.max(0, Math.min(250, left)));
  }

  /** What is pending goes on its way: it is taken once, whatever is done meanwhile. */
  function sendOff(ids: ReadonlySet<number>): Promise<unknown> {
    clearTimeout(timer);
    begun = null;
    const more = pending.value;
    if (same(more, NOTHING_PENDING)) return writing;
    pending.value = NOTHING_PENDING;
    const before = underway.value?.ids === ids ? underway.value.what : NOTHING_PENDING;
    underway.value = { ids, what: both(before, more) };
    return write(ids, more, (n) => `${count(n, 'note')} moved by hand`);
  }

  /** Puts what is pending into the plan. */
  const flush = (): Promise<unknown> => sendOff(looking.chosen);

  const takeOut = () =>
    write(looking.chosen, { gone: true }, (n) => `${count(n, 'note')} taken out by hand`);

  /** One after the other: each adds to the step as the one before left it. One that fails stops none. */
  function next(does: () => unknown): Promise<unknown> {
    sending.value++;
    const done = writing.then(does).finally(() => sending.value--);
    writing = done.catch(() => undefined);
    return done;
  }
  function write(
    ids: ReadonlySet<number>,
    more: Partial<Pending> & { gone?: boolean },
    did: (n: number) => string,
  ): Promise<unknown> {
    return next(async () => {
      let came = false;
      try {
        came = await edit(ids, more, did);
      } finally {
        // What came to nothing is not shown as if it were on its way.
        if (!came) underway.value = null;
      }
    });
  }

  async function edit(
    ids: ReadonlySet<number>,
    more: Partial<Pending> & { gone?: boolean },
    did: (n: number) => string,
  ): Promise<boolean> {
    const shown = job.shown?.delivered;
    const asked = job.request();
    if (!shown || !asked || ids.size === 0 || job.readOnly) return false;
    problem.value = null;
    const origins = new Set<number>();
    let drawn = [...(params().drawn ?? [])];
    let [found, others] = [0, 0];
    for (const { columns, ref: part } of shown.parts)
      for (let i = 0; i < columns.count; i++) {
        if (!ids.has(columns.id[i]!)) continue;
        if (columns.origin[i]! > 0) {
          origins.add(columns.origin[i]!);
          continue;
        }
        // A note that was drawn in this sitting is changed where it is written.
        const mine = drawn.findIndex(
          (d) =>
            same(d.part, part) &&
            d.noteNumber === columns.noteNumber[i] &&
            mapTick(shown.fromBase ?? undefined, d.tick) === columns.start[i],
        );
        if (mine < 0) {
          others++;
          continue;
        }
        found++;
        const d = drawn[mine]!;
        drawn = more.gone
          ? drawn.filter((_, n) => n !== mine)
          : drawn.with(mine, {
              ...d,
              tick: unmapTick(
                shown.fromBase ?? undefined,
                laterOnClock(shown, columns.start[i]! + (more.ticks ?? 0), more.us ?? 0),
              ),
              lengthTicks: Math.max(1, d.lengthTicks + (more.longerTicks ?? 0)),
              noteNumber: d.noteNumber + (more.semitones ?? 0),
              velocity: Math.max(1, Math.min(127, d.velocity + (more.louder ?? 0))),
            });
      }
    const ofLevels = touchLevels(shown, job.plan?.now.steps ?? [], ids, more, (tick, us) =>
      laterOnClock(shown, tick, us),
    );
    if (ofLevels.notes > 0) {
      const changed = new Map(ofLevels.steps.map((s) => [s.key, s]));
      const next = (job.plan?.now.steps ?? []).map((s) => changed.get(s.key) ?? s);
      job.setSteps(next, `${count(ofLevels.notes, 'note')} of a level by hand`);
      others -= ofLevels.notes;
    }
    const { sources, plan } = asked;
    const still = job.still();
    const addresses =
      origins.size === 0
        ? []
        : ((await engine().ask('addresses', { sources, plan, origins: [...origins] }).result) ??
          []);
    // Another job has other notes under these numbers.
    if (!still()) return false;
    if (others > 0)
      problem.value = `${count(others, 'note')} made by another step of the plan: change that step, or switch it off.`;
    const n = addresses.length + found;
    if (n === 0) return ofLevels.notes > 0;
    const notes = [...(step.value?.scope.notes ?? [])];
    const places = new Map(notes.map((a, i) => [JSON.stringify(a), i]));
    const edits = new Map((params().edits ?? []).map((e) => [e.note, e]));
    for (const address of addresses) {
      const key = JSON.stringify(address);
      let place = places.get(key);
      if (place === undefined) {
        place = notes.push(address) - 1;
        places.set(key, place);
      }
      edits.set(place, summed(edits.get(place) ?? { note: place }, more));
    }
    keep(notes, { edits: [...edits.values()], drawn }, did(n));
    return true;
  }

  const params = (): HandParams => (step.value?.params as HandParams | undefined) ?? {};

  /** A note that is drawn; ticks of the piece on the screen. */
  function draw(note: HandNote): Promise<unknown> {
    void flush();
    return next(() => drawIn(note));
  }
  function drawIn(note: HandNote) {
    const shown = job.shown?.delivered;
    if (!shown || job.readOnly) return;
    const tick = unmapTick(shown.fromBase ?? undefined, note.tick);
    const { edits = [], drawn = [] } = params();
    keep(
      step.value?.scope.notes ?? [],
      { edits, drawn: [...drawn, { ...note, tick }] },
      'A note drawn by hand',
    );
  }

  function keep(notes: readonly NoteAddress[], next: HandParams, did: string) {
    const scope = notes.length > 0 ? { notes } : {};
    const call = { step: BY_HAND, params: next, scope, on: true };
    if (step.value) job.editStep(step.value.key, call, did);
    else {
      const there = new Set(job.plan?.now.steps.map((s) => s.key));
      job.addSteps(did, [call]);
      sitting.value = job.plan?.now.steps.find((s) => !there.has(s.key))?.key ?? null;
    }
  }

  // --- notes of a part that was split -------------------------------------------------------------

  /** Splits that the parts of the chosen notes came from; a note may be turned to another side. */
  const turnable = computed(() => {
    const steps = job.plan?.now.steps ?? [];
    if (looking.chosen.size === 0 || !steps.some((s) => s.step === 'split' && s.on)) return false;
    return (job.shown?.delivered.parts ?? []).some(
      ({ ref: part, columns }) =>
        madeBy(steps, part, 'split') && columns.id.some((id) => looking.chosen.has(id)),
    );
  });

  /** The chosen notes go to the other side of the split that parted them; twice is back again. */
  function turn(): Promise<unknown> {
    void flush();
    return next(turnOver);
  }
  async function turnOver() {
    const shown = job.shown?.delivered;
    const asked = job.request();
    const steps = job.plan?.now.steps ?? [];
    if (!shown || !asked || job.readOnly) return;
    const origins = new Map<PlanStep, Set<number>>();
    for (const { ref: part, columns } of shown.parts) {
      const by = madeBy(steps, part, 'split');
      if (!by) continue;
      const own = origins.get(by) ?? new Set<number>();
      for (let i = 0; i < columns.count; i++)
        if (looking.chosen.has(columns.id[i]!) && columns.origin[i]! > 0)
          own.add(columns.origin[i]!);
      origins.set(by, own);
    }
    const { sources, plan } = asked;
    let n = 0;
    let next = steps;
    for (const [by, own] of origins) {
      if (own.size === 0) continue;
      const call = engine().ask('addresses', { sources, plan, origins: [...own] });
      const addresses = (await call.result) ?? [];
      const params = by.params as { turned?: readonly NoteAddress[] };
      const turned = [...(params.turned ?? [])];
      for (const address of addresses) {
        const at = turned.findIndex((t) => same(t, address));
        if (at >= 0) turned.splice(at, 1);
        else turned.push(address);
      }
      n += addresses.length;
      next = next.map((s) => (s === by ? { ...by, params: { ...params, turned } } : s));
    }
    // Another change may have come in between.
    if (n > 0 && steps === job.plan?.now.steps)
      job.setSteps(next, `${count(n, 'note')} to the other side of the split`);
  }

  watch(
    () => job.shown,
    () => (underway.value = null),
    { flush: 'sync' },
  );
  // Other notes are chosen: what was done to the ones before is done.
  watch(
    () => looking.chosen,
    (_, before) => void sendOff(before),
    { flush: 'sync' },
  );

  /** Something that was done is not in the plan yet. */
  const waits = computed(() => !same(pending.value, NOTHING_PENDING) || sending.value > 0);
  job.putInFirst(() => (waits.value ? flush() : null));

  return {
    waits,
    open,
    at,
    pending,
    preview,
    problem,
    sitting,
    step,
    beginSitting,
    toggle,
    show,
    close,
    nudge,
    flush,
    takeOut,
    turnable,
    turn,
    draw,
  };
});
