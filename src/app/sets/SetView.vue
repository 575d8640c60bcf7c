<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useEventListener, watchDebounced } from '@vueuse/core';
import { useRoute, useRouter } from 'vue-router';
import { FOLDERS, type SongSet } from '../../core/sets/set';
import BusyBar from '../shelf/BusyBar.vue';
import { useNewerExports } from '../stores/newer-exports';
import { usePictures } from '../stores/pictures';
import { useRecipes } from '../stores/recipes';
import { useMendSet } from '../stores/mend-set';
import { useSet } from '../stores/set';
import { useTargets } from '../stores/targets';
import { count } from '../../core/target/words';
import { divider } from '../stores/sets';
import AddSongs from './AddSongs.vue';
import HandOverSet from './HandOverSet.vue';
import MendSet from './MendSet.vue';
import NewerTable from './NewerTable.vue';
import RunningOrder from './RunningOrder.vue';
import SetMargin from './SetMargin.vue';

/** A set: its running order, what is wrong with its songs beside each other, and how it goes out. */
const open = useSet();
const mending = useMendSet();
const newer = useNewerExports();
const recipes = useRecipes();
const targets = useTargets();
void targets.load();
const pictures = usePictures();
const route = useRoute();
const router = useRouter();
const adding = ref(false);
const handing = ref(false);
const mendingAll = ref(false);
const editing = ref(false);

watch(
  () => String(route.params['id']),
  (id) => {
    if (route.name === 'set') open.open(id);
  },
  { immediate: true },
);
// What is not known yet is looked at when nothing else is to be done.
watchDebounced(
  () => [open.set, open.lines.map((l) => l.job?.changedAt).join()],
  () => void open.look(),
  { immediate: true, debounce: 250 },
);
watchDebounced(
  () => open.looking === null && open.lines,
  (lines) => {
    if (lines) void pictures.fill(lines.flatMap((l) => l.job ?? []));
  },
  { immediate: true, debounce: 800 },
);
onBeforeUnmount(() => {
  pictures.stop();
  newer.close();
  open.stop();
});

const FOLDER_WORDS: Readonly<Record<SongSet['folders'], string>> = {
  none: 'All files side by side',
  song: 'A folder for each song',
  target: 'A folder for each target',
};
const folders = FOLDERS.map((value) => ({ value, label: FOLDER_WORDS[value] }));
const targetOptions = computed(() => targets.all.map((t) => ({ value: t.id, label: t.name })));
const NO_RECIPE = '';
const recipeOptions = computed(() => [
  { value: NO_RECIPE, label: 'No recipe for new songs' },
  ...recipes.rows.map((r) => ({ value: r.id, label: `New songs by “${r.recipe.name}”` })),
]);
const recipeNow = computed(() => {
  const name = open.set?.recipe?.name;
  return recipes.rows.find((r) => r.recipe.name === name)?.id ?? NO_RECIPE;
});
function chooseRecipe(id: string) {
  const recipe = recipes.rows.find((r) => r.id === id)?.recipe ?? null;
  void open.change(
    { is: 'recipe', recipe: recipe && (structuredClone(recipe) as never) },
    recipe ? `Recipe ${recipe.name}` : 'No recipe',
  );
}

const filter = ref<'all' | 'stops' | 'changed' | 'never'>('all');
const FILTERS = [
  { value: 'all', label: 'All songs' },
  { value: 'stops', label: 'With stops' },
  { value: 'changed', label: 'Changed since the last handover' },
  { value: 'never', label: 'Never handed over' },
];
const shown = computed(() => {
  const keep = {
    all: () => true,
    stops: (l: (typeof open.lines)[number]) => (l.facts?.tally.stops ?? 0) > 0 || !!l.problem,
    changed: (l: (typeof open.lines)[number]) => l.changed,
    never: (l: (typeof open.lines)[number]) => l.handedOver === null,
  }[filter.value];
  return filter.value === 'all' ? null : new Set(open.lines.filter(keep).map((l) => l.row.key));
});

function rename(event: Event) {
  if (!editing.value) return;
  editing.value = false;
  const title = (event.target as HTMLInputElement).value.trim();
  if (title !== '' && title !== open.set?.title)
    void open.change({ is: 'title', title }, `Call it ${title}`);
}
const at = ref<string | null>(null);
function nextStop() {
  const line = open.nextWithStop(at.value);
  if (!line) return;
  at.value = line.row.key;
  if (line.job) void openSong(line.row.key);
}
async function openSong(key: string, stage = 'proof') {
  const line = open.lineOf.get(key);
  if (!line?.job) return;
  await open.turnTo(line);
  const query = { set: open.set!.id, row: key };
  await router.push({ path: `/job/${line.job.id}/${stage}`, query });
}
async function play() {
  const first = open.lines.find((l) => l.job && !l.row.aside);
  if (!first?.job) return;
  const query = { set: open.set!.id, row: first.row.key, on: '1' };
  await open.turnTo(first);
  await router.push({ path: `/job/${first.job.id}/rehearsal`, query });
}
const stops = computed(() => open.lines.some((l) => (l.facts?.tally.stops ?? 0) > 0 || l.problem));
/** Songs whose stops mending has left: somebody has to look at them. */
const left = computed(() => new Set(mending.rows.map((r) => r.key)));
/** What is done next, most likely: songs without a target are asked for theirs first. */
const next = computed(() => {
  if (open.unsaid.length > 0) return 'target';
  if (!stops.value) return 'handover';
  const stopped = open.lines.filter((l) => (l.facts?.tally.stops ?? 0) > 0);
  return stopped.length > 0 && stopped.every((l) => left.value.has(l.row.key)) ? 'stop' : 'mending';
});
useEventListener(window, 'keydown', (event) => {
  const typing = (event.target as HTMLElement).closest('input, textarea, [role="dialog"]');
  if (typing || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
  event.preventDefault();
  void (event.shiftKey ? open.redo() : open.undo());
});
</script>

<template>
  <div v-if="open.missing" class="missing">
    <h1>There is no such set here</h1>
    <p class="serif">It may have been removed, or it is in another browser.</p>
    <RouterLink to="/sets">To the sets</RouterLink>
  </div>
  <section v-else-if="open.set" class="set" :aria-label="open.set.title">
    <header class="head">
      <input
        v-if="editing"
        class="title"
        :value="open.set.title"
        aria-label="Title of the set"
        maxlength="200"
        autofocus
        @blur="rename"
        @keydown.enter="rename"
        @keydown.esc="editing = false"
      />
      <h1 v-else class="title">
        <button
          class="plain"
          type="button"
          :title="`${open.set.title}: change the title`"
          @click="editing = true"
        >
          <span class="called">{{ open.set.title }}</span>
        </button>
      </h1>
      <span class="soft small">{{ open.targetNames.join(', ') }}</span>
      <span class="room"></span>
      <NButton
        size="small"
        :disabled="!open.row?.past.length"
        :title="open.row?.past.length ? `Undo: ${open.row.past.at(-1)!.did}` : 'Nothing to undo'"
        @click="open.undo()"
        >Undo</NButton
      >
      <NButton
        size="small"
        :disabled="!open.row?.future.length"
        :title="
          open.row?.future.length ? `Redo: ${open.row.future[0]!.did}` : 'Nothing to do again'
        "
        @click="open.redo()"
        >Redo</NButton
      >
      <NButton
        size="small"
        :type="next === 'handover' ? 'primary' : 'default'"
        :disabled="open.lines.length === 0"
        @click="handing = true"
      >
        Hand the set over
      </NButton>
    </header>
    <div class="tools">
      <NButton size="small" @click="adding = true">Bring songs in</NButton>
      <NButton
        size="small"
        @click="open.change({ is: 'add', rows: [divider('Second half')] }, 'Add a text')"
      >
        Add a text
      </NButton>
      <NSelect
        class="narrow"
        size="small"
        :value="filter"
        :options="FILTERS"
        aria-label="Which songs are shown"
        @update:value="(v: typeof filter) => (filter = v)"
      />
      <NSelect
        class="narrow"
        size="small"
        :value="open.set.folders"
        :options="folders"
        aria-label="How files stand beside each other"
        @update:value="
          (v: SongSet['folders']) => open.change({ is: 'folders', folders: v }, FOLDER_WORDS[v])
        "
      />
      <NSelect
        v-if="recipes.rows.length > 0"
        class="narrow"
        size="small"
        :value="recipeNow"
        :options="recipeOptions"
        aria-label="Recipe for new songs"
        @update:value="chooseRecipe"
      />
      <span class="room"></span>
      <NButton
        size="small"
        :type="next === 'mending' ? 'primary' : 'default'"
        :disabled="open.lines.length === 0"
        @click="mendingAll = true"
      >
        Mend every song
      </NButton>
      <NButton
        size="small"
        :type="next === 'stop' ? 'primary' : 'default'"
        :disabled="!stops"
        @click="nextStop"
      >
        Next with a stop
      </NButton>
      <NButton size="small" :disabled="open.lines.length === 0" @click="play">
        Rehearse in order
      </NButton>
    </div>
    <div v-if="open.unsaid.length > 0" class="unsaid">
      <span class="serif"> {{ count(open.unsaid.length, 'song') }} without a target. </span>
      <NSelect
        class="narrow"
        size="small"
        :value="null"
        :options="targetOptions"
        filterable
        placeholder="They are for…"
        aria-label="What the songs are for"
        @update:value="(id: string) => open.sayTarget(targets.find(id)!)"
      />
    </div>
    <div class="body">
      <div class="page">
        <NewerTable v-if="newer.rows.length > 0" />
        <RunningOrder :shown="shown" @open="openSong" />
      </div>
      <SetMargin @open="openSong" />
    </div>
    <BusyBar
      v-if="newer.busy"
      says="Finding the songs of these files"
      v-bind="newer.busy"
      :cancel="newer.cancel"
    />
    <AddSongs v-if="adding" @close="adding = false" />
    <MendSet v-if="mendingAll" @close="mendingAll = false" @open="openSong" />
    <HandOverSet v-if="handing" @close="handing = false" @open="openSong" />
  </section>
  <div v-else></div>
</template>

<style scoped>
.set {
  display: grid;
  grid-template-rows: auto auto auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
  height: 100%;
}

.body {
  grid-row: 4;
}

.unsaid {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 8px 20px;
  border-bottom: 1px solid var(--line);
  background: var(--ochre-wash);
}

.head,
.tools {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 12px 20px 0;
}

.tools {
  flex-wrap: wrap;
  padding: 10px 20px 12px;
  border-bottom: 1px solid var(--line);
}

.title {
  min-width: 0;
  font: 600 22px var(--serif);
}

h1.title .plain {
  max-width: 100%;
  text-align: left;
}

.called {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.head > :not(.title, .room) {
  flex: none;
}

input.title {
  width: 340px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

.title .plain {
  font: inherit;
}

.room {
  flex: 1;
}

.narrow {
  width: 172px;
}

.body {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 292px;
  min-height: 0;
}

.page {
  overflow: auto;
  padding: 14px 20px 0;
}

.missing {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  padding: 14vh 12vw;
}

@media (width <= 860px) {
  .body {
    grid-template-columns: minmax(0, 1fr);
    overflow: auto;
  }

  .page {
    overflow: visible;
  }
}
</style>
