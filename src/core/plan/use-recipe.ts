import type { HandNote } from '../steps/by-hand';
import type { Scope } from '../steps/call';
import type { LeftAsIs, Plan, Recipe, RecipeSource } from './plan';

export const makeRecipe = (
  name: string,
  target: { id: string; version: string },
  plan: Plan,
  leftAsIs: readonly LeftAsIs[],
  sources?: readonly RecipeSource[],
): Recipe => ({
  recipeVersion: 2,
  name,
  target: { id: target.id, version: target.version },
  ...(sources ? { sources: sources.map((s) => ({ key: s.key, name: s.name })) } : {}),
  plan,
  leftAsIs,
});

/**
 * The plan of a recipe for other sources: each source of the recipe is the one of that name, else
 * the next that no name took. What has no counterpart keeps its key, and is listed as missing.
 */
export function recipeFor(recipe: Recipe, sources: readonly RecipeSource[]): Plan {
  const named = recipe.sources ?? [{ key: 'main', name: '' }];
  const free = [...sources];
  const to = new Map<string, string>();
  const take = (key: string, at: number) => {
    if (at >= 0) to.set(key, free.splice(at, 1)[0]!.key);
  };
  for (const { key, name } of named)
    take(
      key,
      free.findIndex((s) => s.name === name),
    );
  for (const { key } of named) if (!to.has(key)) take(key, Math.min(0, free.length - 1));
  const keyOf = (key: string) => to.get(key) ?? key;
  const ref = <R extends { source: string }>(r: R): R => ({ ...r, source: keyOf(r.source) });
  const scopeFor = (scope: Scope): Scope => ({
    ...scope,
    ...(scope.parts ? { parts: scope.parts.map(ref) } : {}),
    ...(scope.notes ? { notes: scope.notes.map((n) => ({ ...n, part: ref(n.part) })) } : {}),
  });
  /** Notes that were drawn by hand name the part that they stand in. */
  const paramsFor = (params: unknown): unknown => {
    const { drawn } = (params ?? {}) as { drawn?: readonly HandNote[] };
    if (!Array.isArray(drawn)) return params;
    return { ...(params as object), drawn: drawn.map((n) => ({ ...n, part: ref(n.part) })) };
  };
  const { uses, steps } = recipe.plan;
  return {
    ...(uses ? { uses: uses.map(ref) } : {}),
    steps: steps.map((step) => ({
      ...step,
      params: paramsFor(step.params),
      scope: scopeFor(step.scope),
    })),
  };
}
