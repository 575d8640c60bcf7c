<script setup lang="ts">
import { NButton, NSwitch } from 'naive-ui';
import { ArrowDown, ArrowUp, GripVertical, Pencil, Trash2 } from '@lucide/vue';
import { computed, ref } from 'vue';
import { VueDraggable } from 'vue-draggable-plus';
import type { PlanStep, Recipe } from '../../core/plan/plan';
import { recipeOf } from '../storage/job';
import { engine } from '../stores/engine';
import { saveFile } from '../storage/save-file';
import { fileStem } from '../stores/handover';
import { useJob } from '../stores/job';
import { useRecipes } from '../stores/recipes';
import { useShelf } from '../stores/shelf';
import HandLines from './HandLines.vue';
import StepEditor from './StepEditor.vue';
import { useByAndBy } from '../kit/use-by-and-by';
import { useFiles } from '../kit/use-files';

const job = useJob();
const shelf = useShelf();
const recipes = useRecipes();
const editing = ref<string | null>(null);
const adding = ref(false);

const steps = computed({
  get: () => [...(job.plan?.now.steps ?? [])],
  set: (next: PlanStep[]) => {
    const same = next.every((s, i) => s.key === job.plan?.now.steps[i]?.key);
    if (!same) job.setSteps(next, 'Steps in another order');
  },
});
const setUp = useByAndBy(() => steps.value.length, 3);
const view = (key: string) => job.shown?.steps.find((s) => s.key === key) ?? null;

const turn = (step: PlanStep, on: boolean) =>
  job.setSteps(
    steps.value.map((s) => (s.key === step.key ? { ...s, on } : s)),
    `${on ? 'Switched on' : 'Switched off'}: ${view(step.key)?.says ?? step.step}`,
  );
function shift(index: number, by: 1 | -1) {
  const next = [...steps.value];
  const [step] = next.splice(index, 1);
  next.splice(index + by, 0, step!);
  steps.value = next;
}
const named = (step: PlanStep) => view(step.key)?.says ?? step.step;
const missing = (key: string) => {
  const found = view(key)?.missing;
  if (!found) return '';
  const parts = found.parts.map((p) => p.track || `channel ${p.channel}`);
  const lines = [
    parts.length > 0 ? `no longer there: ${parts.join(', ')}` : '',
    found.notes.length > 0 ? `${found.notes.length} notes no longer there` : '',
  ];
  return lines.filter(Boolean).join('; ');
};

const recipeHere = (): Recipe | null => (job.record ? recipeOf(job.record) : null);

/** On the shelf of recipes, to be used on other files. */
async function keepRecipe() {
  const recipe = recipeHere();
  if (recipe && (await recipes.keep(recipe)))
    job.said = `Kept among the recipes as ${recipe.name}.`;
}

function saveRecipe() {
  const recipe = recipeHere();
  if (!recipe) return;
  const bytes = new TextEncoder().encode(`${JSON.stringify(recipe, null, 2)}\n`);
  saveFile(bytes, `${fileStem(recipe.name)}-${recipe.target.id}.recipe.json`, 'application/json');
}

const choose = useFiles('.json,application/json', useFile, { multiple: false });
async function useFile([file]: File[]) {
  if (!file) return;
  const still = job.still();
  const read = await engine().plain.readRecipe(await file.text());
  if (read.problem !== null) shelf.problems.push(`${file.name}: ${read.problem}`);
  else if (still()) job.useRecipe(read.recipe as Recipe);
}
</script>

<template>
  <div class="plan" :aria-busy="setUp < steps.length">
    <p v-if="steps.length === 0" class="serif">
      The plan is empty: what you hand over is the source as it came. Mends and your own steps stand
      here in their order; each can be switched off, changed or moved.
    </p>
    <VueDraggable
      v-model="steps"
      tag="ol"
      class="steps"
      handle=".grip"
      :animation="120"
      :disabled="job.readOnly"
    >
      <li
        v-for="(step, i) in steps.slice(0, setUp)"
        :key="step.key"
        class="step"
        :class="{ off: !step.on }"
      >
        <div class="line">
          <GripVertical class="grip soft" :size="14" aria-hidden="true" />
          <span class="says">{{ view(step.key)?.says ?? step.step }}</span>
        </div>
        <p v-if="view(step.key)?.refused" class="refused">
          Did nothing. {{ view(step.key)?.refused }}
        </p>
        <p v-else class="soft small">
          {{ view(step.key)?.effect ?? (step.on ? '' : 'switched off') }}
        </p>
        <p v-if="missing(step.key)" class="refused">{{ missing(step.key) }}</p>
        <HandLines v-if="step.step === 'by-hand'" :step="step" />
        <div class="tools">
          <NSwitch
            size="small"
            :value="step.on"
            :disabled="job.readOnly"
            :aria-label="`On: ${named(step)}`"
            @update:value="turn(step, $event)"
          />
          <button
            class="icon"
            type="button"
            :aria-label="`Earlier: ${named(step)}`"
            title="Earlier"
            :disabled="i === 0 || job.readOnly"
            @click="shift(i, -1)"
          >
            <ArrowUp :size="15" />
          </button>
          <button
            class="icon"
            type="button"
            :aria-label="`Later: ${named(step)}`"
            title="Later"
            :disabled="i === steps.length - 1 || job.readOnly"
            @click="shift(i, 1)"
          >
            <ArrowDown :size="15" />
          </button>
          <button
            class="icon"
            type="button"
            :aria-label="`Change: ${named(step)}`"
            title="Change"
            :disabled="job.readOnly"
            @click="editing = editing === step.key ? null : step.key"
          >
            <Pencil :size="15" />
          </button>
          <button
            class="icon"
            type="button"
            :aria-label="`Take out: ${named(step)}`"
            title="Take out"
            :disabled="job.readOnly"
            @click="job.removeStep(step.key, `Taken out: ${view(step.key)?.says ?? step.step}`)"
          >
            <Trash2 :size="15" />
          </button>
        </div>
        <StepEditor v-if="editing === step.key" :step="step" @done="editing = null" />
      </li>
    </VueDraggable>
    <div v-if="adding" class="adding">
      <h3>A step of your own</h3>
      <StepEditor @done="adding = false" />
    </div>
    <div class="foot">
      <NButton size="small" :disabled="job.readOnly" @click="adding = !adding">
        {{ adding ? 'Close' : 'Add a step' }}
      </NButton>
      <NButton size="small" :disabled="steps.length === 0" @click="keepRecipe">
        Keep as a recipe
      </NButton>
      <NButton size="small" @click="saveRecipe">Save as recipe</NButton>
      <NButton size="small" :disabled="job.readOnly" @click="choose()">Use a recipe</NButton>
    </div>
  </div>
</template>

<style scoped>
.plan {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  align-content: start;
}

.steps {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.step {
  padding: 7px 9px 5px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.off .says {
  color: var(--ink-2);
  text-decoration: line-through;
}

.line {
  display: flex;
  gap: 6px;
}

.grip {
  flex: none;
  margin-top: 2px;
  cursor: grab;
}

.says {
  font-weight: 500;
}

.small {
  padding-left: 20px;
  font-size: 12px;
}

.refused {
  margin: 3px 0 0 20px;
  padding-left: 7px;
  border-left: 3px solid var(--wax);
  font-size: 12px;
}

.tools {
  display: flex;
  gap: 2px;
  align-items: center;
  padding-left: 20px;
}

.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.adding {
  padding: 0 0 4px;
}

.adding h3 {
  margin: 4px 0 6px;
  font-size: 14px;
}
</style>
