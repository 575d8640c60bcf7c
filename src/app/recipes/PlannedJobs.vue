<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed } from 'vue';
import { count } from '../../core/target/words';
import { activePlan, recipeOf, type JobRecord } from '../storage/job';
import { useRecipes } from '../stores/recipes';
import { useShelf } from '../stores/shelf';

/** Jobs of which a recipe can be made and none was yet, those changed last first. */
const recipes = useRecipes();
const shelf = useShelf();
const MOST = 12;
/** As it stands now: what was changed since can be kept anew. */
const kept = (job: JobRecord) => {
  const { plan } = recipeOf(job);
  return recipes.rows.some(
    ({ recipe }) =>
      recipe.target.id === job.activeTarget && JSON.stringify(recipe.plan) === JSON.stringify(plan),
  );
};
const planned = computed(() =>
  shelf.jobs
    .filter((job) => !job.targetOpen && activePlan(job).now.steps.length > 0 && !kept(job))
    .slice(0, MOST),
);
</script>

<template>
  <section v-if="planned.length > 0" aria-labelledby="planned-title">
    <h2 id="planned-title">Jobs that have a plan</h2>
    <ul class="rows">
      <li v-for="job in planned" :key="job.id" class="recipe">
        <span class="name">
          <strong>{{ job.title }}</strong>
          <span class="soft">
            {{ activePlan(job).target.name }},
            {{ count(activePlan(job).now.steps.length, 'step') }}
          </span>
        </span>
        <NButton
          size="small"
          :aria-label="`Keep the plan of ${job.title} as a recipe`"
          @click="recipes.keep(recipeOf(job))"
        >
          Keep as a recipe
        </NButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  margin: 18px 0 8px;
  font: 600 16px/1.3 var(--serif);
}

.rows {
  max-width: 620px;
}

.recipe {
  gap: 12px;
}
</style>
<style scoped src="./rows.css"></style>
