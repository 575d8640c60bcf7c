import { liveQuery } from 'dexie';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Recipe } from '../../core/plan/plan';
import { recipeFor } from '../../core/plan/use-recipe';
import type { Target } from '../../core/target/schema';
import { stemOf } from '../../core/smf/name';
import type { RunningCall } from '../../worker/client';
import type { RunView } from '../../worker/run-protocol';
import { db, storageProblem, type RecipeRow } from '../storage/db';
import { EMPTY_STATE, newKey, newPlan } from '../storage/job';
import { saveFile } from '../storage/save-file';
import { sideEngine } from './engine';
import { fileStem } from './handover';
import { useShelf } from './shelf';
import { useTargets } from './targets';

/** What a recipe came to on one file. */
export interface Outcome {
  readonly name: string;
  readonly sha256: string;
  /** Null while it is being worked out, and where the file could not be read. */
  readonly result: {
    readonly stops: number;
    readonly cautions: number;
    /** Parts at their seats: “Bells → Bell loft”. */
    readonly seated: readonly string[];
    /** What steps name and the file does not have, and steps that did nothing. */
    readonly notFound: readonly string[];
    readonly leftOut: number;
    readonly notes: number;
  } | null;
  readonly jobId: string | null;
}

/** Recipes that are kept, and one of them used on many files. */
export const useRecipes = defineStore('recipes', () => {
  const shelf = useShelf();
  const targets = useTargets();
  const rows = shallowRef<readonly RecipeRow[]>([]);
  const problem = ref<string | null>(null);
  /** The recipe that files are tried on. */
  const chosen = ref<string | null>(null);
  const outcomes = shallowRef<readonly Outcome[]>([]);
  const running = ref(false);
  const done = ref(0);
  const row = computed(() => rows.value.find((r) => r.id === chosen.value) ?? null);

  liveQuery(() => db.recipes.toArray()).subscribe({
    next: (found) => (rows.value = found.toSorted((a, b) => b.changedAt - a.changedAt)),
    error: (error) => (problem.value = storageProblem(error)),
  });

  /** The same recipe is kept once, however often it is asked for. */
  async function keep(recipe: Recipe, id?: string): Promise<boolean> {
    try {
      await db.transaction('rw', db.recipes, async () => {
        const text = JSON.stringify(recipe);
        const there = id === undefined ? await db.recipes.toArray() : [];
        const same = there.find((r) => JSON.stringify(r.recipe) === text);
        await db.recipes.put({ id: id ?? same?.id ?? newKey(), recipe, changedAt: Date.now() });
      });
      problem.value = null;
      return true;
    } catch (error) {
      problem.value = storageProblem(error);
      return false;
    }
  }
  const remove = (id: string) => db.recipes.delete(id);
  const save = ({ recipe }: RecipeRow) =>
    saveFile(
      new TextEncoder().encode(`${JSON.stringify(recipe, null, 2)}\n`),
      `${fileStem(recipe.name)}-${recipe.target.id}.recipe.json`,
      'application/json',
    );

  /** Recipe files go on the shelf; other files are tried with the recipe that is chosen. */
  async function take(files: readonly File[]) {
    const songs: File[] = [];
    for (const file of files) {
      if (!/\.json$/i.test(file.name) || /\.chart\.json$/i.test(file.name)) {
        songs.push(file);
        continue;
      }
      const read = await sideEngine().plain.readRecipe(await file.text());
      if (read.problem !== null) shelf.problems.push(`${file.name}: ${read.problem}`);
      else await keep(read.recipe as Recipe);
    }
    if (songs.length === 0) return;
    if (!row.value) {
      shelf.problems.push('Choose the recipe first that these files are for.');
      return;
    }
    await run(songs);
  }

  let round = 0;
  let call: RunningCall<RunView> | null = null;

  async function run(files: readonly File[]) {
    const used = row.value;
    const target = used && targets.find(used.recipe.target.id);
    if (!used || !target) {
      problem.value = `The target ${used?.recipe.target.id ?? ''} of this recipe is not on the shelf.`;
      return;
    }
    const mine = ++round;
    call?.cancel();
    outcomes.value = files.map((f) => ({ name: f.name, sha256: '', result: null, jobId: null }));
    done.value = 0;
    running.value = true;
    for (const [i, file] of files.entries()) {
      const sha256 = await shelf.takeFile(file);
      if (mine !== round) return;
      const result = sha256 ? await tryOn(used.recipe, target, sha256, file.name) : null;
      if (mine !== round) return;
      outcomes.value = outcomes.value.map((o, n) =>
        n === i ? { ...o, sha256: sha256 ?? '', result } : o,
      );
      done.value++;
    }
    running.value = false;
  }

  function cancel() {
    round++;
    call?.cancel();
    running.value = false;
  }

  const planFor = (recipe: Recipe, name: string) => recipeFor(recipe, [{ key: 'main', name }]);

  async function tryOn(recipe: Recipe, target: Target, sha256: string, name: string) {
    const plan = planFor(recipe, name);
    call = sideEngine().ask('run', {
      sources: [{ key: 'main', sha256, name }],
      target,
      // How several sources stand together says nothing of one alone.
      plan: { steps: plan.steps },
      leftAsIs: recipe.leftAsIs,
      known: [],
    });
    let view: RunView | null = null;
    try {
      view = await call.result;
    } catch (error) {
      // One file that fails is one line; the others are still tried.
      shelf.problems.push(`${name}: ${(error as Error).message}`);
    }
    if (!view) return null;
    const seatName = (id: string | null) => target.seats.find((s) => s.id === id)?.name ?? null;
    const playing = view.delivered.parts.filter(
      (p) => typeof p.columns === 'object' && p.columns.count > 0,
    );
    const size = (p: (typeof playing)[number]) =>
      typeof p.columns === 'object' ? p.columns.count : 0;
    return {
      stops: view.tally.stops,
      cautions: view.tally.cautions,
      seated: playing
        .filter((p) => !p.leftOut && p.seat !== null)
        .map((p) => `${p.name} → ${seatName(p.seat) ?? p.seat}`),
      notFound: view.steps.flatMap((s) => [
        ...s.missing.parts.map((p) => p.track || `channel ${p.channel}`),
        ...(s.missing.notes.length > 0 ? [`${s.missing.notes.length} single notes`] : []),
        ...(s.refused !== null && s.missing.parts.length + s.missing.notes.length === 0
          ? [`${s.says}: ${s.refused}`]
          : []),
      ]),
      leftOut: playing.filter((p) => p.leftOut).reduce((n, p) => n + size(p), 0),
      notes: playing.reduce((n, p) => n + size(p), 0),
    };
  }

  /** A job of a file, with the plan of the recipe. */
  async function makeJob(outcome: Outcome): Promise<string | null> {
    const used = row.value;
    const target = used && targets.find(used.recipe.target.id);
    if (!used || !target || outcome.sha256 === '') return null;
    if (outcome.jobId !== null) return outcome.jobId;
    const { steps } = planFor(used.recipe, outcome.name);
    const state = {
      ...EMPTY_STATE,
      steps: steps.map((s) => ({ ...s, key: newKey() })),
      leftAsIs: used.recipe.leftAsIs,
      did: `Recipe: ${used.recipe.name}`,
    };
    try {
      const id = await shelf.addJob(stemOf(outcome.name), outcome.name, outcome.sha256, [
        newPlan(target, state),
      ]);
      outcomes.value = outcomes.value.map((o) => (o === outcome ? { ...o, jobId: id } : o));
      return id;
    } catch (error) {
      problem.value = storageProblem(error);
      return null;
    }
  }

  async function makeJobs() {
    for (const outcome of [...outcomes.value])
      if (outcome.result && outcome.jobId === null)
        await makeJob(outcomes.value.find((o) => o.name === outcome.name && o.jobId === null)!);
  }

  function choose(id: string | null) {
    if (chosen.value === id) return;
    cancel();
    chosen.value = id;
    outcomes.value = [];
  }

  return {
    rows,
    row,
    problem,
    chosen,
    outcomes,
    running,
    done,
    keep,
    remove,
    save,
    take,
    run,
    cancel,
    makeJob,
    makeJobs,
    choose,
  };
});
