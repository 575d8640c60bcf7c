import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import type { NoteAddress } from '../../core/score/address';
import type { MendView } from '../../worker/run-protocol';
import { ghostsOf, type Ghost } from '../sheet/ghosts';
import { engine } from './engine';
import { useJob, type LaidPiece } from './job';
import { defineJobPart } from './job/job-part';

/** What the eye is on: the finding that is open, the notes that are chosen, before or after. */
export const useLooking = defineJobPart(() => {
  const job = useJob();
  const finding = ref<string | null>(null);
  /** Ids of chosen notes. */
  const chosen = shallowRef<ReadonlySet<number>>(new Set());
  /** Id of the part that is walked to with [ and ]. */
  const part = ref<string | null>(null);
  const before = ref(false);
  /** What a mend would come to, looked at before it is applied. */
  const trial = shallowRef<{
    mend: MendView;
    piece: LaidPiece;
    /** What all moved by. */
    shiftMs: number;
    /** Where the notes were that it would change. */
    ghosts: readonly Ghost[];
    changed: number;
  } | null>(null);
  /** The tick that the sheet is asked to bring into view; counted, so that the same one counts. */
  const goTo = shallowRef<{ tick: number; n: number } | null>(null);
  let n = 0;
  let asked = 0;

  const piece = computed(() =>
    before.value
      ? (job.shown?.source ?? null)
      : (trial.value?.piece ?? job.shown?.delivered ?? null),
  );
  const openFinding = computed(() => job.findings.find((f) => f.key === finding.value) ?? null);
  watch(openFinding, (found) => {
    const there = found?.piece ?? null;
    if (there !== null && there !== job.shown?.piece) void job.showPiece(there);
  });
  /** The notes that the sheet outlines: none where a finding names all, so that nothing would stand out. */
  const outlined = computed<ReadonlySet<number>>(() => {
    if (chosen.value.size > 0) return chosen.value;
    const named = openFinding.value?.notes ?? [];
    const playing = piece.value?.parts.filter((p) => !p.leftOut) ?? [];
    const all = playing.reduce((n, { columns }) => n + columns.count, 0);
    return new Set(named.length === all ? [] : named);
  });

  /** From the first start to the last end of the chosen notes; none where none are. */
  const chosenSpan = computed(() => {
    if (chosen.value.size === 0) return null;
    let [fromTick, toTick] = [Infinity, 0];
    for (const { columns } of piece.value?.parts ?? [])
      for (let i = 0; i < columns.count; i++)
        if (chosen.value.has(columns.id[i]!)) {
          fromTick = Math.min(fromTick, columns.start[i]!);
          toTick = Math.max(toTick, columns.end[i]!);
        }
    return toTick > fromTick ? { fromTick, toTick } : null;
  });

  function bring(tick: number) {
    goTo.value = { tick, n: ++n };
  }

  /** By what it does: the screen may have been made anew meanwhile, of the same plan. */
  const isTried = (mend: MendView) =>
    trial.value !== null && JSON.stringify(trial.value.mend) === JSON.stringify(mend);

  /** Shows what a mend would come to, or no longer. */
  async function tryOut(mend: MendView) {
    const mine = ++asked;
    if (isTried(mend)) {
      trial.value = null;
      return;
    }
    const now = job.shown?.delivered;
    const state = job.plan?.now;
    const found = await job.tryOut(mend.steps);
    // A late answer is of another note or another plan.
    if (mine !== asked || state !== job.plan?.now) return;
    if (!found || !now) {
      trial.value = null;
      return;
    }
    const { ghosts, count } = ghostsOf(now, found.piece, found.shiftMs);
    trial.value = { mend, piece: found.piece, shiftMs: found.shiftMs, ghosts, changed: count };
  }
  // A trial is of one plan and one finding.
  watch([() => job.plan?.now, () => job.shown?.piece, finding], () => {
    asked++;
    trial.value = null;
  });

  /** Where in the list the open finding stands, or stood before it was mended. */
  let place = 0;

  function lookAt(key: string | null) {
    finding.value = key;
    const at = job.findings.findIndex((f) => f.key === key);
    if (at >= 0) place = at;
    chosen.value = new Set();
    const first = openFinding.value?.spans[0];
    if (first) bring(first.fromTick);
  }

  /** To the next or the one before, in the order of the sheet. */
  function walk(by: 1 | -1) {
    const list = job.findings;
    if (list.length === 0) return;
    const at = list.findIndex((f) => f.key === finding.value);
    // What was mended is gone: the walk goes on from where it stood.
    const gone =
      by > 0 ? Math.min(place, list.length - 1) : (place - 1 + list.length) % list.length;
    const next = at < 0 ? gone : (at + by + list.length) % list.length;
    lookAt(list[next]!.key);
  }

  /** To the next stop that is open; of one alone to that. */
  async function walkStops() {
    const list = job.findings;
    const at = list.findIndex((f) => f.key === finding.value);
    const from = at < 0 ? place : at + 1;
    const next = [...list.slice(from), ...list.slice(0, from)].find(
      (f) => f.severity === 'stop' && f.reason === null,
    );
    if (!next) return;
    // Whoever follows what is open sees that it was asked for again.
    if (next.key === finding.value) {
      finding.value = null;
      await nextTick();
    }
    lookAt(next.key);
  }

  function walkParts(by: 1 | -1) {
    // Those of the column: what only sets up a channel is passed over.
    const parts = piece.value?.parts.filter((p) => p.columns.count > 0) ?? [];
    if (parts.length === 0) return;
    const at = parts.findIndex((p) => p.id === part.value);
    const next = at < 0 ? (by > 0 ? 0 : parts.length - 1) : (at + by + parts.length) % parts.length;
    choosePart(parts[next]!.id);
  }

  function choosePart(id: string | null) {
    part.value = id;
    const found = piece.value?.parts.find((p) => p.id === id);
    chosen.value = new Set(found ? found.columns.id : []);
    finding.value = null;
  }

  /** All that the open finding names become the chosen notes. */
  function chooseNamed() {
    if (openFinding.value) chosen.value = new Set(openFinding.value.notes);
  }

  /** The chosen notes as a plan names them: part, start, key and occurrence in their source. */
  async function addresses(): Promise<NoteAddress[]> {
    const asked = job.request();
    const shown = piece.value;
    if (!asked || !shown) return [];
    const origins = new Set<number>();
    for (const { columns } of shown.parts)
      for (let i = 0; i < columns.count; i++)
        if (chosen.value.has(columns.id[i]!) && columns.origin[i]! > 0)
          origins.add(columns.origin[i]!);
    const { sources, plan } = asked;
    const call = engine().ask('addresses', { sources, plan, origins: [...origins] });
    return (await call.result) ?? [];
  }

  function clear() {
    finding.value = null;
    chosen.value = new Set();
    part.value = null;
    before.value = false;
    trial.value = null;
    goTo.value = null;
    place = 0;
  }

  return {
    finding,
    chosen,
    part,
    before,
    trial,
    isTried,
    tryOut,
    goTo,
    piece,
    openFinding,
    outlined,
    chosenSpan,
    bring,
    lookAt,
    walk,
    walkStops,
    walkParts,
    choosePart,
    chooseNamed,
    addresses,
    clear,
  };
});
