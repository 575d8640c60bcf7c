import { ref, shallowRef } from 'vue';
import type { PlanStep } from '../../core/plan/plan';
import type { PartRef } from '../../core/score/score';
import { unmapTick } from '../../core/time/time-map';
import { withStretch, type CopiedPoints, type CurveEdit } from './curve-edit';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';

const DRAW = 'draw-curve';
interface DrawParams {
  readonly controller?: number;
  readonly stretches: readonly CurveEdit[];
}

/** Curves that are changed by hand: what is done to one of them in a sitting is one step. */
export const useCurveHand = defineJobPart(() => {
  const job = useJob();
  /** Steps of this sitting, by the curve that they are of. */
  const sitting = ref<ReadonlyMap<string, string>>(new Map());

  /** What was copied last, of whichever curve. */
  const copied = shallowRef<CopiedPoints | null>(null);

  const slotOf = (part: PartRef, kind: number, number: number) =>
    JSON.stringify([part, kind, number]);

  /** The step of this sitting, as long as it is the last of the plan. */
  function stepOf(slot: string): PlanStep | null {
    const last = job.plan?.now.steps.at(-1);
    return last && last.on && last.key === sitting.value.get(slot) ? last : null;
  }

  /** Puts changes into the plan; ticks are those of the piece on the screen. */
  function put(
    part: PartRef,
    kind: number,
    number: number,
    edits: CurveEdit | readonly CurveEdit[] | null,
    did: string,
  ) {
    const shown = job.shown?.delivered;
    const all = edits === null ? [] : 'points' in edits ? [edits] : edits;
    if (all.length === 0 || !shown || job.readOnly) return;
    const base = (tick: number) => unmapTick(shown.fromBase ?? undefined, tick);
    const onBase = all.map((edit) => ({
      fromTick: base(edit.fromTick),
      toTick: base(edit.toTick - 1) + 1,
      points: edit.points.map((p) => ({ ...p, tick: base(p.tick) })),
    }));
    const slot = slotOf(part, kind, number);
    const step = stepOf(slot);
    const there = step ? (step.params as DrawParams).stretches : [];
    const params: DrawParams = {
      ...(kind === 0xe0 ? {} : { controller: number }),
      stretches: onBase.reduce(withStretch, there),
    };
    const call = { step: DRAW, params, scope: { parts: [part] }, on: true };
    if (step) return job.editStep(step.key, call, did);
    const before = new Set(job.plan?.now.steps.map((s) => s.key));
    job.addSteps(did, [call]);
    const key = job.plan?.now.steps.find((s) => !before.has(s.key))?.key;
    if (key) sitting.value = new Map(sitting.value).set(slot, key);
  }

  return { put, copied };
});
