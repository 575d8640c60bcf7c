<script setup lang="ts">
import { SCORE_FILES } from '../../core/smf/name';
import { NButton, NInput } from 'naive-ui';
import AskFirst from '../kit/AskFirst.vue';
import { Download, Trash2 } from '@lucide/vue';
import { useFileDialog } from '@vueuse/core';
import { computed, onMounted, shallowRef, watch } from 'vue';
import { count, countOf } from '../../core/target/words';
import TallyDots from '../margin/TallyDots.vue';
import { engine } from '../stores/engine';
import { useRecipes, type Outcome } from '../stores/recipes';
import { useTargets } from '../stores/targets';
import { useLeadOn } from '../kit/use-lead-on';
import PlannedJobs from './PlannedJobs.vue';

/** Plans that are kept, what they do in words, and one of them used on many files. */
const recipes = useRecipes();
const targets = useTargets();
const leadOn = useLeadOn();
onMounted(() => targets.load());

const { open, onChange, reset } = useFileDialog({ accept: '.json', multiple: true });
onChange((files) => {
  void recipes.take([...(files ?? [])]);
  reset();
});
const songs = useFileDialog({ accept: SCORE_FILES, multiple: true });
songs.onChange((files) => {
  if (files && files.length > 0) void recipes.take([...files]);
  songs.reset();
});

const targetName = (id: string) => targets.find(id)?.name ?? `${id} (not on the shelf)`;
/** What the chosen recipe does, step by step, as the plan says it. */
const says = shallowRef<readonly string[]>([]);
watch(
  () => recipes.row,
  async (row) => {
    says.value = [];
    const seats = targets.find(row?.recipe.target.id ?? '')?.seats ?? [];
    const named = { seats: seats.map(({ id, name }) => ({ id, name })) };
    const found: string[] = [];
    for (const step of row?.recipe.plan.steps ?? []) {
      const checked = await engine().plain.checkStep({ ...step }, named);
      found.push(`${checked.says ?? checked.problem}${step.on ? '' : ' (switched off)'}`);
    }
    if (row === recipes.row) says.value = found;
  },
  { immediate: true },
);
const ready = computed(() => recipes.outcomes.filter((o) => o.result !== null));
const open_ = computed(() => ready.value.filter((o) => o.jobId === null).length);

async function openJob(outcome: Outcome) {
  const lead = leadOn();
  const id = await recipes.makeJob(outcome);
  if (id) await lead(`/job/${id}/proof`);
}
const list = (texts: readonly string[], most = 3) =>
  texts.length === 0
    ? '–'
    : `${texts.slice(0, most).join(', ')}${texts.length > most ? ` and ${texts.length - most} more` : ''}`;
</script>

<template>
  <section class="recipes" aria-labelledby="recipes-title">
    <header class="head">
      <h1 id="recipes-title">Recipes</h1>
      <NButton @click="open()">Take in a recipe file</NButton>
    </header>
    <p v-if="recipes.problem" class="problem" role="alert">{{ recipes.problem }}</p>
    <div v-if="recipes.rows.length === 0" class="none">
      <p class="serif intro">
        A recipe is the plan of a job, kept to be used on other files: the same seats, the same
        rests, the same mends. Open a job, go to its plan in Proof, and keep it as a recipe; or take
        a recipe file in here.
      </p>
      <PlannedJobs />
    </div>
    <div v-else class="body">
      <ul class="rows" aria-label="Recipes">
        <li
          v-for="row in recipes.rows"
          :key="row.id"
          class="recipe"
          :class="{ here: recipes.chosen === row.id }"
        >
          <button
            class="plain name"
            type="button"
            :aria-pressed="recipes.chosen === row.id"
            @click="recipes.choose(row.id)"
          >
            <strong>{{ row.recipe.name }}</strong>
            <span class="soft">
              {{ targetName(row.recipe.target.id) }},
              {{ count(row.recipe.plan.steps.length, 'step') }}
            </span>
          </button>
          <button
            class="icon"
            type="button"
            :aria-label="`Save ${row.recipe.name} as a file`"
            title="Save as a file"
            @click="recipes.save(row)"
          >
            <Download :size="15" />
          </button>
          <AskFirst
            v-slot="{ ask }"
            :title="`Remove “${row.recipe.name}”?`"
            says="Jobs that used this recipe keep their plans."
            yes="Remove the recipe"
            @yes="recipes.remove(row.id)"
          >
            <button
              class="icon"
              type="button"
              :aria-label="`Remove ${row.recipe.name}`"
              title="Remove"
              @click="ask"
            >
              <Trash2 :size="15" />
            </button>
          </AskFirst>
        </li>
      </ul>
      <div v-if="recipes.row" class="one">
        <div class="title">
          <NInput
            size="small"
            :value="recipes.row.recipe.name"
            :maxlength="200"
            :input-props="{ 'aria-label': 'Name of the recipe' }"
            @change="
              recipes.keep(
                { ...recipes.row.recipe, name: $event.trim() || 'Recipe' },
                recipes.row.id,
              )
            "
          />
          <NButton v-if="!recipes.running" type="primary" @click="songs.open()">
            Use it on files
          </NButton>
          <NButton v-else @click="recipes.cancel()">
            Stop at {{ recipes.done }} of {{ recipes.outcomes.length }}
          </NButton>
        </div>
        <ol class="steps">
          <li v-for="(line, i) in says" :key="i">{{ line }}</li>
        </ol>
        <p v-if="recipes.outcomes.length === 0" class="soft">
          Drop files here, one or forty: each is held against
          {{ targetName(recipes.row.recipe.target.id) }} with this plan. Nothing is written, and no
          job is made before you ask for it.
        </p>
        <template v-else>
          <table class="table">
            <thead>
              <tr>
                <th scope="col">File</th>
                <th scope="col">Left open</th>
                <th scope="col">Seated</th>
                <th scope="col">Not found</th>
                <th scope="col" class="n">Left out</th>
                <th scope="col"><span class="sr">Job</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(o, i) in recipes.outcomes" :key="`${i} ${o.name}`">
                <th scope="row" :title="o.name">{{ o.name }}</th>
                <template v-if="o.result">
                  <td>
                    <TallyDots
                      :tally="{ stops: o.result.stops, cautions: o.result.cautions, remarks: 0 }"
                    />
                  </td>
                  <td :title="o.result.seated.join('\n')">{{ list(o.result.seated) }}</td>
                  <td :class="{ amiss: o.result.notFound.length > 0 }">
                    {{ list(o.result.notFound) }}
                  </td>
                  <td class="n">
                    {{
                      o.result.leftOut === 0
                        ? '–'
                        : countOf(o.result.leftOut, o.result.notes, 'note')
                    }}
                  </td>
                  <td>
                    <button class="link" type="button" @click="openJob(o)">
                      {{ o.jobId === null ? 'Open as a job' : 'Open its job' }}
                    </button>
                  </td>
                </template>
                <td v-else colspan="5" class="soft">
                  {{ recipes.running && i >= recipes.done ? 'waiting' : 'not read' }}
                </td>
              </tr>
            </tbody>
          </table>
          <NButton v-if="!recipes.running && open_ > 0" class="all" @click="recipes.makeJobs()">
            Make {{ open_ === 1 ? 'a job of it' : `jobs of all ${open_}` }}
          </NButton>
        </template>
      </div>
      <div v-else class="none">
        <p class="serif intro">Choose a recipe to see what it does, and to use it on files.</p>
        <PlannedJobs />
      </div>
    </div>
  </section>
</template>

<style scoped>
.recipes {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto minmax(0, 1fr);
  gap: 14px;
  height: 100%;
  padding: 22px 28px 0;
}

.head {
  display: flex;
  justify-content: space-between;
}

.head h1 {
  font-size: 26px;
}

.intro {
  max-width: 620px;
  color: var(--ink-2);
  font-size: 15px;
}

.none {
  min-height: 0;
  overflow: auto;
}

.problem {
  color: var(--wax);
}

.body {
  display: grid;
  grid-row: 3;
  grid-template-columns: 300px minmax(0, 1fr);
  gap: 22px;
  min-height: 0;
}

.here {
  border-color: var(--quill);
  box-shadow: inset 3px 0 0 var(--quill);
}

.one {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  align-content: start;
  padding-bottom: 20px;
  overflow: auto;
}

.title {
  display: flex;
  gap: 12px;
  align-items: center;
}

.title :deep(.n-input) {
  max-width: 360px;
}

.steps {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
  max-height: 190px;
  margin: 0;
  padding-left: 22px;
  overflow: auto;
}

.table {
  width: 100%;
  border-collapse: collapse;
  background: var(--page);
}

.table th,
.table td {
  padding: 6px 9px;
  border: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}

.table thead th {
  color: var(--ink-2);
  font-size: 12px;
}

.table .n {
  text-align: right;
}

.table tbody th {
  max-width: 190px;
  overflow: hidden;
  font-weight: 500;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.all {
  justify-self: start;
}

.table .link {
  white-space: nowrap;
}

.amiss {
  color: var(--wax);
}
</style>
<style scoped src="./rows.css"></style>
