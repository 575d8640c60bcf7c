import { whichKey } from '../sources/which';
import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Rendition } from '../score/piece';
import type { Base } from '../sources/merge';
import type { Target } from '../target/schema';
import { baseRendition } from './base';
import type { PlanMemory } from './memory';
import type { Plan } from './plan';
import { runStep, type StepRunOutcome } from './run-step';
import { NOTHING_MISSING } from './select';
import { seatByDefault } from './seating';

/** What one step of a plan came to. */
export interface StepOutcome extends StepRunOutcome {
  readonly key: string;
  readonly on: boolean;
}

export interface PlanRun {
  readonly rendition: Rendition;
  readonly outcomes: readonly StepOutcome[];
}

export interface RunInput {
  readonly base: Base;
  readonly target: Target;
  readonly plan: Plan;
  readonly memory?: PlanMemory;
  readonly checkpoint?: Checkpoint;
}

/** Everything of the base and the target that a plan's first state depends on. */
const beginning = ({ sources, uses }: Base, { seats, seating }: Target): string =>
  JSON.stringify([
    sources.map((s) => [s.key, s.sha256, s.name, whichKey(s)]),
    uses.map((u) => [u.source.key, u.as, u.follows, u.offset, u.rules, u.place]),
    seats,
    seating,
  ]);

/** Runs a plan. Pure: the same sources, target and plan give the same rendition. */
export function runPlan({ base, target, plan, memory, checkpoint }: RunInput): PlanRun {
  memory?.begin();
  let state = memory ? beginning(base, target) : '';
  let rendition = baseRendition(base, target);
  const outcomes: StepOutcome[] = [];
  plan.steps.forEach((step, i) => {
    checkpoint?.(i, plan.steps.length);
    if (!step.on) {
      outcomes.push({
        key: step.key,
        on: false,
        effect: null,
        losses: [],
        refused: null,
        passedOver: [],
        missing: NOTHING_MISSING,
      });
      return;
    }
    const text = memory ? `${state}\n${JSON.stringify([step.step, step.params, step.scope])}` : '';
    const known = memory?.get(text);
    const result = known?.run ?? runStep(rendition, step, base);
    // A state is known by its number from here on.
    if (memory) state = `#${known?.id ?? memory.put(text, result, rendition)}`;
    rendition = result.rendition;
    outcomes.push({ key: step.key, on: true, ...result.outcome });
  });
  // A step may have brought a part to a seat's channel.
  const pieces = rendition.pieces.map((p) => ({ ...p, score: seatByDefault(p.score, target) }));
  return { rendition: { pieces }, outcomes };
}
