import * as z from 'zod';
import { findStep } from '../steps/index';
import { LeftAsIsSchema, PlanSchema } from '../wire/plan-schema';
import type { LeftAsIs, Plan, Recipe } from './model';

export const RecipeSchema = z.strictObject({
  recipeVersion: z.literal(1),
  name: z.string().max(200),
  target: z.strictObject({ id: z.string().max(100), version: z.string().max(40) }),
  plan: PlanSchema,
  leftAsIs: LeftAsIsSchema,
});

export type RecipeResult =
  | { readonly recipe: Recipe; readonly problem?: undefined }
  | { readonly recipe?: undefined; readonly problem: string };

const LONGEST_RECIPE = 20_000_000;

/** Reads a recipe; every step's parameters are checked too. */
export function parseRecipe(text: string): RecipeResult {
  if (text.length > LONGEST_RECIPE) return { problem: 'The file is too long to be a recipe.' };
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { problem: `This is not JSON: ${(error as Error).message}` };
  }
  const result = RecipeSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    return { problem: `${issue.path.join('.') || 'The file'}: ${issue.message}.` };
  }
  for (const [i, step] of result.data.plan.steps.entries()) {
    const definition = findStep(step.step);
    if (!definition) return { problem: `plan.steps.${i}: there is no step named "${step.step}".` };
    const params = definition.params.safeParse(step.params);
    if (!params.success) {
      const issue = params.error.issues[0]!;
      return { problem: `plan.steps.${i}.params.${issue.path.join('.')}: ${issue.message}.` };
    }
  }
  return { recipe: result.data as Recipe };
}

export const makeRecipe = (
  name: string,
  target: { id: string; version: string },
  plan: Plan,
  leftAsIs: readonly LeftAsIs[],
): Recipe => ({
  recipeVersion: 1,
  name,
  target: { id: target.id, version: target.version },
  plan,
  leftAsIs,
});
