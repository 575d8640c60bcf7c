import { computed, onScopeDispose, ref, shallowRef, toRef, watch } from 'vue';
import type { RowRate } from '../../core/plan/row-rates';
import { rowRateSteps, withSteps } from '../../core/plan/made-by';
import { SILENT_DB } from '../../core/sound/levels';
import type { PartView } from '../../core/wire/view';
import { newKey } from '../storage/job';
import { sideEngine } from './engine';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { usePlaying } from './playing';
import { useSeating } from './seating';
import { useSettings } from './settings';
import { loudnessOf } from './loudness';
import { NOTHING_TRIED, type Tried } from './tried';
import {
  kitsFor,
  pitches,
  presetsFor,
  rowsFor,
  seatsFor,
  soundsFor,
  type Candidate,
  type WheelKind,
} from './wheel-candidates';

export type { WheelKind } from './wheel-candidates';

/** Only so much louder or softer: beyond that a sound is meant to be another. */
const MOST_DB = 18;

const OF_NOTES: readonly { id: WheelKind; name: string }[] = [
  { id: 'sound', name: 'Sound' },
  { id: 'octave', name: 'Octave' },
  { id: 'key', name: 'Semitones' },
];

/**
 * The try-out wheel: candidates of one kind for the chosen part, heard one after the other while the
 * music plays. Nothing is in the plan before one is kept.
 */
export const useWheel = defineJobPart(() => {
  const job = useJob();
  const playing = usePlaying();
  const seating = useSeating();
  const open = ref(false);
  const kind = toRef(useSettings(), 'wheelKind');
  const at = ref(0);
  /** Goes on by itself, one candidate further each time the loop comes round. */
  const byItself = ref(false);
  /** Candidates of a part sound as loud as it does now. */
  const matched = toRef(useSettings(), 'wheelMatched');
  /** Where it was opened: a preset is tried for the section that this is in. */
  const fromTick = ref(0);
  const rates = shallowRef<readonly RowRate[]>([]);

  const part = computed<PartView | null>(
    () => seating.chosen[0] ?? seating.all.find((p) => !p.leftOut) ?? null,
  );
  const kinds = computed<{ id: WheelKind; name: string }[]>(() => [
    ...(job.target?.presets ? [{ id: 'preset' as const, name: 'Preset' }] : []),
    // What takes no notes has no use for another pitch of them.
    ...(job.target?.notes?.none ? [] : OF_NOTES),
    ...(seating.ownSeats.length > 1 ? [{ id: 'seat' as const, name: 'Seat' }] : []),
    ...((job.target?.kits?.length ?? 0) > 1 ? [{ id: 'kit' as const, name: 'Kit' }] : []),
    ...(job.target?.grid?.rowsPerSecond ? [{ id: 'rows' as const, name: 'Row rate' }] : []),
  ]);
  /** What is tried for the whole piece and not for a part. */
  const whole = computed(() => kind.value === 'kit' || kind.value === 'rows');

  const candidates = computed<Candidate[]>(() => {
    const p = part.value;
    if (!p) return [];
    switch (kind.value) {
      case 'preset': {
        const [piece, block] = [job.shown?.delivered, job.target?.presets];
        return piece && block ? presetsFor(piece, block, fromTick.value) : [];
      }
      case 'octave':
      case 'key':
        return pitches(p, kind.value);
      case 'seat':
        return seatsFor(p, seating.ownSeats);
      case 'kit': {
        const in_ = seating.all.filter((o) => !o.leftOut).map((o) => o.columns);
        return kitsFor(job.target?.kits ?? [], seating.kit?.id ?? null, seating.countsOfAll(in_));
      }
      case 'rows':
        return rowsFor(
          rates.value,
          job.plan?.now.steps ?? [],
          job.shown?.delivered.delivery.metadata?.rowsPerSecond,
        );
      default:
        return soundsFor(
          p,
          seating.ownSeats.find((s) => s.id === p.seat),
        );
    }
  });
  const now = computed(() => candidates.value[at.value] ?? null);

  /** Rates are held against the piece before one was chosen. */
  let asked = 0;
  async function findRates() {
    const mine = ++asked;
    const request = job.request();
    if (!request) return;
    const without = new Set(rowRateSteps(request.plan.steps));
    const plan = { ...request.plan, steps: request.plan.steps.filter((s) => !without.has(s)) };
    const found = await sideEngine().ask('rowRates', { ...request, plan, known: [] }).result;
    if (mine === asked && found) rates.value = found;
  }

  /** The wheel stands on what is there now. */
  function toNow() {
    if (job.shown) fromTick.value = job.shown.delivered.clock.tickAt(playing.ms);
    const there = candidates.value.findIndex((c) => c.calls === null);
    at.value = Math.max(0, there);
  }
  function start() {
    if (!part.value) return;
    // What is tried is heard as it would be delivered.
    playing.listen = 'delivered';
    open.value = true;
    if (!kinds.value.some((k) => k.id === kind.value)) kind.value = kinds.value[0]?.id ?? 'sound';
    toNow();
  }
  function turn(by: number) {
    const n = candidates.value.length;
    if (n > 0) at.value = (at.value + by + n) % n;
  }
  function stop() {
    open.value = false;
    byItself.value = false;
    playing.tried = NOTHING_TRIED;
  }
  onScopeDispose(stop);
  function toggle() {
    if (open.value) stop();
    else start();
  }
  /** Candidates of a kind one after the other, each for one round of the loop. */
  function goThrough(of: WheelKind) {
    kind.value = of;
    start();
    if (!playing.loop) playing.loopHere();
    byItself.value = true;
    void playing.play();
  }

  /** Puts what is heard into the plan. */
  function keep() {
    const p = part.value;
    const found = now.value;
    stop();
    if (!p || !found?.calls || job.readOnly) return;
    const [first] = found.calls;
    if (first?.step === 'transpose')
      seating.transpose(p, (first.params as { semitones: number }).semitones);
    else if (first?.step === 'route') seating.place([p], (first.params as { seat: string }).seat);
    else if (whole.value) {
      const steps = (job.plan?.now.steps ?? []).filter((s) => !found.without?.includes(s.key));
      const calls = found.calls.map((c) => ({ ...c, key: newKey() }));
      job.setSteps(
        withSteps(steps, calls),
        kind.value === 'kit' ? `Kit ${found.name}` : found.name,
      );
    } else job.upsertSteps(`${p.name}: ${found.name}`, found.calls, [first!.step]);
  }

  // --- levels ---------------------------------------------------------------------------------------
  let measuring = 0;
  async function hear() {
    const mine = ++measuring;
    const found = now.value;
    const p = part.value;
    if (!open.value) return;
    if (!found?.calls || !p) {
      playing.tried = NOTHING_TRIED;
      return;
    }
    const tried: Tried = {
      steps: found.calls,
      without: found.without ?? [],
      part: null,
      db: 0,
      preset: found.preset ?? null,
    };
    // Presets are as loud as they are: that is among what is tried.
    const plainly = !matched.value || whole.value || kind.value === 'preset';
    if (plainly || !playing.playing) {
      playing.tried = tried;
      if (plainly) return;
    }
    try {
      const [as, then] = [await loudnessOf(p), await loudnessOf(p, tried)];
      // Another candidate was turned to meanwhile.
      if (mine !== measuring || !open.value) return;
      const silent = as === null || then === null || as <= SILENT_DB || then <= SILENT_DB;
      const db = silent ? 0 : Math.max(-MOST_DB, Math.min(MOST_DB, as - then));
      playing.tried = { ...tried, part: p.ref, db };
    } catch {
      if (mine === measuring && open.value) playing.tried = tried;
    }
  }

  watch(kind, () => {
    if (kind.value === 'rows') void findRates();
    toNow();
  });
  watch(rates, toNow);
  watch([now, open, matched], () => void hear());
  // Another part, another plan: the wheel begins anew.
  watch([() => part.value?.id, () => job.shown], () => {
    if (!open.value) return;
    if (kind.value === 'rows') void findRates();
    toNow();
  });
  // The loop came round.
  watch(
    () => playing.ms,
    (ms, before) => {
      if (open.value && byItself.value && playing.playing && playing.loop && ms < before - 20)
        turn(1);
    },
  );

  return {
    open,
    kind,
    kinds,
    at,
    byItself,
    matched,
    whole,
    part,
    candidates,
    now,
    turn,
    toggle,
    goThrough,
    stop,
    keep,
  };
});
