import type { PartRef } from '../score/score';
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

const isRef = (value: Record<string, unknown>): value is Record<string, unknown> & PartRef =>
  typeof value['source'] === 'string' &&
  typeof value['track'] === 'string' &&
  typeof value['channel'] === 'number' &&
  typeof value['occurrence'] === 'number';

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
  /** Whatever a step's parameters name by a part's reference, wherever it stands in them. */
  const paramsFor = (params: unknown): unknown => {
    if (Array.isArray(params)) return params.map(paramsFor);
    if (typeof params !== 'object' || params === null) return params;
    const kept = Object.entries(params).map(([k, v]) => [k, paramsFor(v)] as const);
    const copy = Object.fromEntries(kept) as Record<string, unknown>;
    return isRef(copy) ? ref(copy) : copy;
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
