<script setup lang="ts">
import { NConfigProvider } from 'naive-ui';
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useDropZone, useEventListener, useTitle } from '@vueuse/core';
import { naiveOverrides } from './theme/naive';
import { useSettings } from './stores/settings';
import { useShelf } from './stores/shelf';
import { useRecording } from './stores/recording';
import { storageAtStart } from './storage/db';
import { collectBytes } from './storage/jobs';
import { useJob } from './stores/job';
import { useSet } from './stores/set';
import { useUpdates } from './stores/updates';
import { useWatching } from './stores/watching';
import { useTargets } from './stores/targets';
import SpineBar from './shelf/SpineBar.vue';
import { droppedFiles } from './shelf/dropped-files';
import DropChoice from './shelf/DropChoice.vue';
import { useDrops } from './shelf/use-drops';
import ProblemList from './shelf/ProblemList.vue';
import BusyBar from './shelf/BusyBar.vue';
import KeyList from './keys/KeyList.vue';

const settings = useSettings();
const shelf = useShelf();
const job = useJob();
const targets = useTargets();
const openSet = useSet();
const watching = useWatching();
const updates = useUpdates();
const UpdateStrip = defineAsyncComponent(() => import('./shelf/UpdateStrip.vue'));
/** Where no folder is watched nothing of it is loaded. */
const WatchStrip = defineAsyncComponent(() => import('./shelf/WatchStrip.vue'));
const route = useRoute();
const router = useRouter();
const deskOf = computed(() => (route.name === 'job' ? String(route.params['id']) : ''));
/** What the tab of the browser is called: the job that is open, else the page. */
const PAGES: Readonly<Record<string, string>> = {
  jobs: 'Jobs',
  targets: 'Targets',
  target: 'Target',
  'target-edit': 'Edit a target',
  sets: 'Sets',
  recipes: 'Recipes',
  fit: 'Which fits?',
};
useTitle(() => {
  const own = { job: job.record?.title, set: openSet.set?.title }[String(route.name)];
  const page = own ?? PAGES[String(route.name)];
  return page ? `${page} · Wary Quill` : 'Wary Quill';
});
const overrides = computed(() => naiveOverrides(settings.light));
const showKeys = ref(false);
const drops = useDrops();
const recording = useRecording();
const busy = computed(() => shelf.busy ?? job.busy ?? recording.busy);

/** `?demo=1` puts the week on the desk; `?demo=quay-stomp` opens one of its jobs. */
const oneOf = (asked: unknown): asked is string =>
  typeof asked === 'string' && asked !== '' && asked !== '1';
/** One job of the week is fetched: what would be shown for a moment between is not set up. */
const atFirst = new URLSearchParams(location.search);
const fetching = ref(oneOf(atFirst.get('demo')));

onMounted(async () => {
  const closed = await storageAtStart();
  if (closed !== null) {
    shelf.problems.push(closed);
    shelf.loaded = true;
    fetching.value = false;
    return;
  }
  await settings.load();
  shelf.watchJobs();
  void updates.begin();
  void collectBytes().catch(() => undefined);
  await router.isReady();
  // As the page was asked for: who is quick may be on another screen by now.
  watching.begin(atFirst.get('watch'));
  watch(() => route.query['demo'], openDemo, { flush: 'sync' });
  await openDemo(atFirst.get('demo'));
});

async function openDemo(asked: unknown) {
  if (asked === '1') return void (await shelf.seedDemo());
  if (!oneOf(asked)) return;
  fetching.value = true;
  void import('./job/JobView.vue');
  const id = `demo-${asked}`;
  if (await shelf.seedDemo(id)) await router.replace(`/job/${id}/proof`);
  fetching.value = false;
}

const { isOverDropZone: over } = useDropZone(() => document, {
  // What is dragged inside of the page is no file.
  checkValidity: (items) => [...items].some((item) => item.kind === 'file'),
  onDrop: (_, event) => void droppedFiles(event.dataTransfer, targets.ofOwn).then(drops.take),
});
useEventListener(window, 'keydown', (event) => {
  const typing = (event.target as HTMLElement).closest('input, textarea, [contenteditable]');
  // Over a dialog nothing else is laid.
  const covered = document.querySelector('[role="dialog"]') !== null;
  if (event.key === '?' && !typing && !covered) showKeys.value = true;
});
</script>

<template>
  <NConfigProvider :theme-overrides="overrides" class="frame">
    <SpineBar @keys="showKeys = true" />
    <main class="main">
      <!-- Another job has a desk of its own. -->
      <RouterView
        v-if="!fetching"
        :key="deskOf"
        @files="(files: File[]) => drops.take({ files })"
      />
      <div v-else></div>
      <!-- On the desk of a job messages stand above the pulse. -->
      <div>
        <ProblemList v-if="route.name !== 'job'" />
        <WatchStrip v-if="watching.folder" />
        <UpdateStrip v-if="updates.waiting" />
      </div>
    </main>
    <BusyBar v-if="busy" v-bind="busy" />
    <div v-if="over" class="over" aria-hidden="true">
      <p class="serif">Let go to bring it in</p>
    </div>
    <DropChoice
      v-if="drops.asked.value"
      :key="drops.asked.value.nth"
      :drop="drops.asked.value"
      :open-with="drops.openWith"
      @close="drops.answered"
    />
    <KeyList v-if="showKeys" @close="showKeys = false" />
  </NConfigProvider>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-columns: 60px minmax(0, 1fr);
  height: 100%;
}

.main {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
  height: 100vh;
}

@media (width <= 720px) {
  .frame {
    grid-template-columns: 48px minmax(0, 1fr);
  }

  .main {
    overflow: auto;
  }
}

.over {
  position: fixed;
  inset: 12px;
  z-index: 50;
  display: grid;
  place-items: center;
  border: 2px dashed var(--quill);
  border-radius: 7px;
  background: var(--scrim);
  pointer-events: none;
}

.over p {
  padding: 14px 22px;
  border-radius: 7px;
  background: var(--page);
  font-size: 20px;
}
</style>
