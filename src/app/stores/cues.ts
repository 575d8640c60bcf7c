import { bisector } from 'd3-array';
import { computed, ref, shallowRef, toRef } from 'vue';
import { editedTime } from '../../core/sound/edits';
import { ticksPerQuarterOf } from '../../core/score/score';
import { noteName } from '../../core/target/words';
import type { LaidPiece } from './job';
import { useHand } from './hand';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { useLooking } from './looking';
import { usePlaying } from './playing';
import { useRecording } from './recording';
import { useSettings } from './settings';

/** What begins together in a part: one cue. */
export interface Cue {
  /** Id of its first note: what it is known by while it moves. */
  readonly id: number;
  readonly ids: readonly number[];
  readonly tick: number;
  readonly ms: number;
  readonly label: string;
  readonly keys: string;
  /** How much later the nearest beginning in the recording is; null where none is near. */
  readonly onset: number | null;
  /** How much later it is than the source had it, less what all moved by. */
  readonly moved: number | null;
}
/** What is heard behind a cue, before it goes round. */
const BEHIND_MS = 1200;
const NEAR_MS = 500;
const MOST_CUES = 4000;

/** Tap and nudge: one cue after the other, heard from a little before, moved a little, heard again. */
export const useCues = defineJobPart(() => {
  const job = useJob();
  const looking = useLooking();
  const playing = usePlaying();
  const recording = useRecording();
  const hand = useHand();
  const settings = useSettings();

  const partId = ref<string | null>(null);
  const chosenId = ref<number | null>(null);
  const unit = toRef(settings, 'cueUnit');
  /** Each tap lays a new cue, with the next label where there is one. */
  const tapIn = ref(false);
  const labels = shallowRef<readonly string[]>([]);
  /** Going round a cue, so that the next one is heard at once. */
  const round = ref(false);

  const parts = computed(() =>
    (job.shown?.delivered.parts ?? []).filter((p) => !p.leftOut && p.columns.count > 0),
  );
  const part = computed(
    () =>
      parts.value.find((p) => p.id === (partId.value ?? looking.part)) ?? parts.value[0] ?? null,
  );

  /** Beginnings in the recording as they are heard now. */
  const onsets = computed(() => {
    const all = recording.listened?.facts.onsets.ms ?? new Float64Array(0);
    return [...all].flatMap((ms) => {
      const us = editedTime(recording.layout, ms * 1000);
      return us === null ? [] : [us / 1000];
    });
  });
  const nearest = bisector((ms: number) => ms).center;

  const sourceMs = computed(() => {
    const source = job.shown?.source;
    const out = new Map<number, number>();
    for (const { columns } of source?.parts ?? [])
      for (let i = 0; i < columns.count; i++)
        out.set(columns.id[i]!, source!.clock.msAt(columns.start[i]!));
    return out;
  });

  const cues = computed<readonly Cue[]>(() => {
    const piece = job.shown?.delivered;
    const of = part.value;
    if (!piece || !of) return [];
    const label = labeller(piece);
    const { columns } = of;
    const out: {
      id: number;
      ids: number[];
      tick: number;
      ms: number;
      label: string;
      keys: string;
      onset: number | null;
      moved: number | null;
    }[] = [];
    for (let i = 0; i < columns.count && out.length < MOST_CUES; i++) {
      const tick = columns.start[i]!;
      const last = out.at(-1);
      const name = noteName(columns.noteNumber[i]!);
      if (last?.tick === tick) {
        last.ids.push(columns.id[i]!);
        last.keys += ` ${name}`;
        continue;
      }
      const ms = piece.clock.msAt(tick);
      const near = onsets.value[nearest(onsets.value, ms)];
      const was = sourceMs.value.get(columns.origin[i]!);
      out.push({
        id: columns.id[i]!,
        ids: [columns.id[i]!],
        tick,
        ms,
        label: label(tick),
        keys: name,
        onset: near !== undefined && Math.abs(near - ms) <= NEAR_MS ? near - ms : null,
        moved: was === undefined ? null : ms - was - (job.shown?.commonShiftMs ?? 0),
      });
    }
    return out;
  });

  const index = computed(() => cues.value.findIndex((c) => c.id === chosenId.value));
  const chosen = computed(() => cues.value[index.value] ?? null);

  function choose(at: number, { quietly = false } = {}) {
    const cue = cues.value[Math.max(0, Math.min(cues.value.length - 1, at))];
    if (!cue) return;
    chosenId.value = cue.id;
    looking.finding = null;
    looking.chosen = new Set(cue.ids);
    looking.bring(cue.tick);
    if (!quietly && round.value && playing.playing) void hear();
  }
  const walk = (by: number) => choose(index.value < 0 ? 0 : index.value + by);

  /** From a little before the chosen cue, round and round until it is told otherwise. */
  async function hear() {
    const cue = chosen.value;
    if (!cue) return;
    round.value = true;
    const fromMs = Math.max(0, cue.ms - settings.preRoll * 1000);
    playing.listen = 'delivered';
    playing.setLoop({ fromMs, toMs: cue.ms + BEHIND_MS });
    playing.seek(fromMs);
    if (!playing.playing) await playing.play();
  }

  function stop() {
    round.value = false;
    playing.stop();
    playing.setLoop(null);
  }

  /** Milliseconds of a step: small or large, in the unit that is chosen. */
  function stepMs(large: boolean): number {
    const piece = job.shown?.delivered;
    if (unit.value === 'frame') return (large ? 5000 : 1000) / frameRate.value;
    if (unit.value === 'grid' && piece && chosen.value) {
      const quarter = ticksPerQuarterOf(piece.division);
      const ticks = large ? quarter : quarter / 4;
      return (ticks * piece.clock.tempoAt(chosen.value.tick)) / 1000 / quarter;
    }
    return large ? 100 : 10;
  }
  const frameRate = computed(() => {
    const said = Number(job.shown?.delivered.delivery.metadata?.frameRate);
    const offered = job.target?.frames?.perSecond;
    const first = Array.isArray(offered) ? offered[0] : offered;
    return Number.isFinite(said) && said > 0 ? said : (first ?? 25);
  });

  function moveBy(ms: number) {
    const cue = chosen.value;
    if (!cue || ms === 0) return;
    const bounded = Math.max(-cue.ms, ms);
    if (cue.ids.some((id) => !looking.chosen.has(id)) || looking.chosen.size !== cue.ids.length)
      looking.chosen = new Set(cue.ids);
    hand.nudge({ us: Math.round(bounded * 1000) });
  }
  const nudge = (way: 1 | -1, large: boolean) => moveBy(way * stepMs(large));

  /** The chosen cue to now, less the hand's delay; or a new one where cues are tapped in. */
  function tap() {
    const now = Math.max(0, playing.nowMs() - settings.handDelayMs);
    if (tapIn.value) return lay(now);
    if (chosen.value) moveBy(now - chosen.value.ms - pendingMs());
  }
  /** What was tapped before and is not in the plan yet. */
  const pendingMs = () => hand.preview.us / 1000;

  /** The chosen cue onto the beginning in the recording that is nearest to it. */
  function toOnset() {
    const { onset } = chosen.value ?? {};
    if (onset !== null && onset !== undefined) moveBy(onset - pendingMs());
  }

  function lay(ms: number) {
    const piece = job.shown?.delivered;
    const to = part.value;
    if (!piece || !to) return;
    const [label, ...rest] = labels.value;
    labels.value = rest;
    const { columns } = to;
    const like = chosen.value ? columns.id.indexOf(chosen.value.id) : 0;
    void hand.draw({
      part: to.ref,
      tick: piece.clock.tickAt(ms),
      lengthTicks: Math.max(1, Math.round(ticksPerQuarterOf(piece.division) / 2)),
      noteNumber: columns.noteNumber[Math.max(0, like)] ?? 60,
      velocity: 90,
      ...(label ? { label } : {}),
    });
  }

  /** The part leads its sound by so much: one step, however often it is changed. */
  const leadMs = computed(() => {
    const ref = JSON.stringify(part.value?.ref);
    const step = job.plan?.now.steps.findLast(
      (s) => s.step === 'move-notes' && JSON.stringify(s.scope.parts?.[0]) === ref,
    );
    return step?.on ? -((step.params as { ms?: number }).ms ?? 0) : 0;
  });
  function lead(ms: number) {
    const of = part.value;
    if (!of || ms === leadMs.value) return;
    const call = { step: 'move-notes', params: { ms: -ms }, scope: { parts: [of.ref] }, on: true };
    job.upsertSteps(`${of.name} leads by ${ms} ms`, [call], ['move-notes']);
  }

  return {
    parts,
    part,
    partId,
    cues,
    index,
    chosen,
    choose,
    walk,
    hear,
    stop,
    round,
    unit,
    frameRate,
    stepMs,
    nudge,
    tap,
    toOnset,
    tapIn,
    labels,
    leadMs,
    lead,
  };
});

/** The caption at a tick, else the marker in force there. */
function labeller({ captions, markers }: LaidPiece): (tick: number) => string {
  const own = new Map(captions.map((c) => [c.tick, c.text.split('\n')[0]!]));
  const ticks = markers.map((m) => m.tick);
  const at = bisector((t: number) => t).right;
  return (tick) => own.get(tick) ?? markers[at(ticks, tick) - 1]?.text ?? '';
}
