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
const kept = (job: JobRecord) =>
  recipes.rows.some(
    ({ recipe }) => recipe.name === job.title && recipe.target.id === job.activeTarget,
  );
const planned = computed(() =>
  shelf.jobs
    .filter((job) => !job.targetOpen && activePlan(job).now.steps.length > 0 && !kept(job))
    .slice(0, MOST),
);
</script>

<template>
  <section v-if="planned.length > 0" aria-labelledby="planned-title">
    <h2 id="planned-title">Jobs that have a plan</h2>
    <ul class="jobs">
      <li v-for="job in planned" :key="job.id" class="job">
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

.jobs {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  max-width: 620px;
  margin: 0;
  padding: 0 0 20px;
  list-style: none;
}

.job {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 7px 6px 8px 11px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.name {
  display: grid;
  flex: 1;
  min-width: 0;
}

strong {
  overflow: hidden;
  font: 600 15px/1.3 var(--serif);
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
