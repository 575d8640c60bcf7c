import { withSteps } from '../../core/plan/made-by';
import type { Plan } from '../../core/plan/plan';
import type { PartRef } from '../../core/score/score';
import type { StepCall } from '../../core/steps/call';

/** A preset that is heard in the place of what is there, from one tick to another or to the end. */
export interface TriedPreset {
  readonly bank: number;
  readonly program: number;
  readonly fromTick: number;
  readonly toTick: number | null;
}

/** Steps that are heard before they are in a plan. */
export interface Tried {
  readonly steps: readonly StepCall[];
  /** Keys of steps of the plan whose place they take. */
  readonly without: readonly string[];
  /** A part that is heard louder by so many decibels, so that levels alone decide nothing. */
  readonly part: PartRef | null;
  readonly db: number;
  readonly preset?: TriedPreset | null;
}

export const NOTHING_TRIED: Tried = { steps: [], without: [], part: null, db: 0 };

export const triedPlan = (plan: Plan, { steps, without }: Tried): Plan =>
  steps.length + without.length === 0
    ? plan
    : {
        ...plan,
        steps: withSteps(
          plan.steps.filter((s) => !without.includes(s.key)),
          steps.map((s, i) => ({ ...s, key: `tried-${i}` })),
        ),
      };
