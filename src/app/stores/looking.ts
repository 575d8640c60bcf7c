import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { NoteAddress } from '../../core/plan/model';
import type { MendView } from '../../worker/protocol';
import { ghostsOf, type Ghost } from '../sheet/ghosts';
import { useJob, type LaidPiece } from './job';

/** What the eye is on: the finding that is open, the notes that are chosen, before or after. */
export const useLooking = defineStore('looking', () => {
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
    /** Where the notes were that it would change. */
    ghosts: readonly Ghost[];
    changed: number;
  } | null>(null);
  /** The tick that the sheet is asked to bring into view; counted, so that the same one counts. */
  const goTo = shallowRef<{ tick: number; n: number } | null>(null);
  let n = 0;

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
  /** The notes that the sheet outlines. */
  const outlined = computed<ReadonlySet<number>>(() =>
    chosen.value.size > 0
      ? chosen.value
      : openFinding.value
        ? new Set(openFinding.value.notes)
        : new Set(),
  );

  function bring(tick: number) {
    goTo.value = { tick, n: ++n };
  }

  /** Shows what a mend would come to, or no longer. */
  async function tryOut(mend: MendView) {
    if (trial.value?.mend === mend) {
      trial.value = null;
      return;
    }
    const now = job.shown?.delivered;
    const found = await job.tryOut(mend.steps);
    if (!found || !now) {
      trial.value = null;
      return;
    }
    const { ghosts, count } = ghostsOf(now, found.piece, found.shiftMs);
    trial.value = { mend, piece: found.piece, ghosts, changed: count };
  }
  // A trial is of one plan and one finding.
  watch([() => job.shown, finding], () => (trial.value = null));

  function lookAt(key: string | null) {
    finding.value = key;
    chosen.value = new Set();
    const first = openFinding.value?.spans[0];
    if (first) bring(first.fromTick);
  }

  /** To the next or the one before, in the order of the sheet. */
  function walk(by: 1 | -1) {
    const list = job.findings;
    if (list.length === 0) return;
    const at = list.findIndex((f) => f.key === finding.value);
    const next = at < 0 ? (by > 0 ? 0 : list.length - 1) : (at + by + list.length) % list.length;
    lookAt(list[next]!.key);
  }

  function walkParts(by: 1 | -1) {
    const parts = piece.value?.parts ?? [];
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

  /** The chosen notes as a plan names them: part, start, key and occurrence in the source. */
  function addresses(): NoteAddress[] {
    const source = job.shown?.source;
    const shown = piece.value;
    if (!source || !shown) return [];
    const origins = new Set<number>();
    for (const { columns } of shown.parts)
      for (let i = 0; i < columns.count; i++)
        if (chosen.value.has(columns.id[i]!)) origins.add(columns.origin[i]!);
    const out: NoteAddress[] = [];
    for (const { ref: part, columns } of source.parts) {
      const seen = new Map<number, number>();
      for (let i = 0; i < columns.count; i++) {
        const slot = columns.start[i]! * 128 + columns.noteNumber[i]!;
        const occurrence = seen.get(slot) ?? 0;
        seen.set(slot, occurrence + 1);
        if (!origins.has(columns.id[i]!)) continue;
        const noteNumber = columns.noteNumber[i]!;
        out.push({ part, startTick: columns.start[i]!, noteNumber, occurrence });
      }
    }
    return out;
  }

  function clear() {
    finding.value = null;
    chosen.value = new Set();
    part.value = null;
    before.value = false;
    trial.value = null;
  }

  return {
    finding,
    chosen,
    part,
    before,
    trial,
    tryOut,
    goTo,
    piece,
    openFinding,
    outlined,
    bring,
    lookAt,
    walk,
    walkParts,
    choosePart,
    chooseNamed,
    addresses,
    clear,
  };
});
