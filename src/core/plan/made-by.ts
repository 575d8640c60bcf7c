import type { PartRef } from '../score/score';
import type { StepCall } from '../steps/call';
import type { PlanStep } from './plan';

export const MAKE_LEVELS = 'make-levels';

/** A part that was made of another is named by it: “Chanter, chanter-2”. */
const isMadeOf = (ref: PartRef, from: PartRef): boolean =>
  ref.source === from.source &&
  ref.channel === from.channel &&
  ref.occurrence === from.occurrence &&
  ref.track.startsWith(`${from.track}, `);

/** The step of a kind, of those that are on, that made a part; the last where several may have. */
export const madeBy = (
  steps: readonly PlanStep[],
  ref: PartRef,
  kind: string,
): PlanStep | undefined =>
  steps.findLast(
    (s) =>
      s.on &&
      s.step === kind &&
      (s.scope.parts ? s.scope.parts.some((p) => isMadeOf(ref, p)) : ref.track.includes(', ')),
  );

/**
 * A plan with further steps. Levels are made of the hardest as all else left it: what is not for
 * them goes before the step that makes them.
 */
export function withSteps(
  steps: readonly PlanStep[],
  further: readonly PlanStep[],
): readonly PlanStep[] {
  const makes = steps.findIndex((s) => s.step === MAKE_LEVELS);
  if (makes < 0) return [...steps, ...further];
  const makers = steps.filter((s) => s.step === MAKE_LEVELS);
  const isOfLevels = ({ step, scope }: StepCall) =>
    step === MAKE_LEVELS ||
    (scope.parts ?? []).some((ref) =>
      makers.some((m) => m.scope.parts?.some((from) => isMadeOf(ref, from))),
    );
  return [
    ...steps.slice(0, makes),
    ...further.filter((s) => !isOfLevels(s)),
    ...steps.slice(makes),
    ...further.filter(isOfLevels),
  ];
}

/** The steps that the choice of a row rate made, so that the next choice takes their place. */
export function rowRateSteps<S extends Pick<StepCall, 'step' | 'params'>>(
  steps: readonly S[],
): S[] {
  const asks = (s: S) =>
    typeof s.params === 'object' && s.params !== null && 'rowsPerSecond' in s.params;
  return steps.filter((s, i) => {
    if (s.step === 'quantise' || s.step === 'metadata') return asks(s);
    // The speed is said right before the rate that it is for.
    const next = steps[i + 1];
    return s.step === 'scale-tempo' && next?.step === 'metadata' && asks(next);
  });
}
