import type { SourceUse } from '../sources/use';
import type { StepCall } from '../steps/call';

/** A step in a plan; its key stays while it is edited or moved. */
export interface PlanStep extends StepCall {
  readonly key: string;
}

export interface Plan {
  /** How each source takes part; what is not said is the default of `usesOf`. */
  readonly uses?: readonly SourceUse[];
  readonly steps: readonly PlanStep[];
}

export const EMPTY_PLAN: Plan = { steps: [] };

/** A finding that the user accepts, with the reason; by finding key. */
export interface LeftAsIs {
  readonly key: string;
  readonly reason: string;
}

/** A plan and a target saved for reuse. */
export interface RecipeSource {
  readonly key: string;
  readonly name: string;
}

export interface Recipe {
  readonly recipeVersion: 2;
  readonly name: string;
  readonly target: { readonly id: string; readonly version: string };
  /** The sources that its plan names by their keys; without them there was one, `main`. */
  readonly sources?: readonly RecipeSource[];
  readonly plan: Plan;
  readonly leftAsIs: readonly LeftAsIs[];
}
