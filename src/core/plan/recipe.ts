import { sayLater } from '../diagnostic/later-version';
import { sayIssue } from '../diagnostic/say-issue';
import { findStep } from '../steps/index';
import { upgradeSteps } from './job-file';
import { RecipeSchema } from './plan-schema';
import type { Recipe } from './plan';

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
  const later = sayLater(data, 'recipeVersion', 2);
  if (later !== null) return { problem: later };
  const result = RecipeSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    return { problem: `${issue.path.join('.') || 'The file'}: ${sayIssue(issue)}` };
  }
  for (const [i, step] of result.data.plan.steps.entries()) {
    const definition = findStep(step.step);
    if (!definition) return { problem: `plan.steps.${i}: there is no step named "${step.step}".` };
    const params = definition.params.safeParse(step.params);
    if (!params.success) {
      const issue = params.error.issues[0]!;
      return { problem: `plan.steps.${i}.params.${issue.path.join('.')}: ${sayIssue(issue)}` };
    }
  }
  const recipe = result.data as Recipe;
  if (result.data.recipeVersion === 2) return { recipe };
  const plan = { ...recipe.plan, steps: upgradeSteps(recipe.plan.steps) };
  return { recipe: { ...recipe, recipeVersion: 2, plan } };
}
