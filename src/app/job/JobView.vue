<script setup lang="ts">
import {
  computed,
  defineAsyncComponent,
  nextTick,
  onBeforeUnmount,
  onMounted,
  ref,
  shallowRef,
  watch,
} from 'vue';
import { useEventListener, useTimeoutFn } from '@vueuse/core';
import { onBeforeRouteLeave, onBeforeRouteUpdate, useRoute } from 'vue-router';
import { stageOf, type StageDef } from '../stages/stages';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { useWheel } from '../stores/wheel';
import { useJobKeys } from './use-job-keys';
import JobHead from './JobHead.vue';
import DocketBar from './DocketBar.vue';
import NoticeBar from './NoticeBar.vue';
import PartsColumn from '../parts/PartsColumn.vue';
import { frames } from '../kit/frame-queue';
import { useHand } from '../stores/hand';
import SheetView from '../sheet/SheetView.vue';
import AboveEdge from './AboveEdge.vue';
import SideEdge from './SideEdge.vue';
import ProblemList from '../shelf/ProblemList.vue';
import PulseBar from '../pulse/PulseBar.vue';

/** What is opened by a key is loaded when it is. */
const CloseUp = defineAsyncComponent(() => import('../close-up/CloseUp.vue'));
const SetStrip = defineAsyncComponent(() => import('./SetStrip.vue'));
const LeaveUnkept = defineAsyncComponent(() => import('./LeaveUnkept.vue'));
const TryOutWheel = defineAsyncComponent(() => import('../pulse/TryOutWheel.vue'));

const route = useRoute();
const job = useJob();
const playing = usePlaying();
const settings = useSettings();
const hand = useHand();
const wheel = useWheel();
const stage = computed(() => stageOf(route.params['stage']));

const desk = ref<HTMLElement>();
const tools = ref<HTMLElement>();
/** Nothing is set up before the job that was left is let go of: each has parts of its own. */
const begun = ref(false);
async function open(id: unknown) {
  // What was done by hand goes into the plan of the job that is left.
  await hand.close();
  const opened = job.open(String(id));
  begun.value = true;
  nextStep(() => {
    setUp.value = 1;
    if (job.shown || job.problem) goOn();
    else waitLong();
  });
  await opened;
  await nextTick();
  if (document.activeElement === document.body) desk.value?.focus();
}

/**
 * The parts of the desk are set up a frame after the other, so that none holds up the hand. What is
 * in front of the eye comes first.
 */
const kind = computed(() => ('wide' in stage.value ? 'wide' : 'narrow'));
const side = computed({
  get: () => settings.sideWidth[kind.value],
  set: (width) => (settings.sideWidth[kind.value] = width),
});
const setUp = ref(0);
const SET_UP = 4;
const me = {};
const nextStep = (step: () => void) => frames.add(me, step, { alone: true });
/** What a stage has of its own, above the sheet and beside it; each comes in a frame of its own. */
const above = shallowRef(stage.value.above ?? null);
const panel = shallowRef<StageDef['panel'] | null>(stage.value.panel);
watch(stage, (to) => {
  // A link that was followed by a key gives the keys to what it opened.
  if (document.activeElement?.closest('.thread')) tools.value?.focus();
  panel.value = null;
  above.value = null;
  if (to.above) frames.add(above, () => (above.value = to.above!), { alone: true });
  else frames.drop(above);
  frames.add(panel, () => (panel.value = to.panel), { alone: true });
});
function setUpMore() {
  setUp.value++;
  if (setUp.value < SET_UP) nextStep(setUpMore);
}
/** Beside the sheet nothing is set up before there is something to show, or it takes its time. */
const LONG_MS = 500;
const { stop: stopWaiting, start: waitLong } = useTimeoutFn(goOn, LONG_MS, { immediate: false });
function goOn() {
  stopWaiting();
  if (setUp.value === 1) nextStep(setUpMore);
}

onMounted(() => void open(route.params['id']));
watch([() => job.shown, () => job.problem], goOn);
/**
 * The sound is made ready when a hand comes near it: over the pulse, or on the keys. Whoever only looks
 * pays nothing for it.
 */
const nobodyNear = useEventListener(window, 'keydown', near);
function near() {
  nobodyNear();
  requestIdleCallback(() => void playing.prepare(), { timeout: 500 });
}
onBeforeUnmount(() => {
  for (const owner of [me, above, panel]) frames.drop(owner);
  const still = job.still();
  void hand.close().then(() => {
    if (still()) job.close();
  });
});
/** What cannot be kept is asked about before it is left: here, and by the browser. */
const leaving = ref<((leave: boolean) => void) | null>(null);
const mayLeave = async (): Promise<boolean> => {
  if (!job.saveProblem || job.missing) return true;
  const leave = await new Promise<boolean>((resolve) => (leaving.value = resolve));
  leaving.value = null;
  return leave;
};
onBeforeRouteLeave(mayLeave);
onBeforeRouteUpdate((to, from) => to.params['id'] === from.params['id'] || mayLeave());
useEventListener(window, 'beforeunload', (event) => {
  if (job.atRisk || job.saveProblem || hand.waits) event.preventDefault();
});
useEventListener(window, 'pagehide', () => void hand.flush());
useEventListener(document, 'visibilitychange', () => {
  if (document.visibilityState === 'hidden') void hand.flush();
});

useJobKeys();
</script>

<template>
  <div v-if="job.missing" class="missing">
    <h1>There is no such job here</h1>
    <p class="serif">It may have been removed, or it is in another browser.</p>
    <RouterLink to="/">To the jobs</RouterLink>
  </div>
  <div
    v-else
    ref="desk"
    class="job"
    tabindex="-1"
    :aria-label="job.record?.title"
    role="region"
    :data-revision="job.revision"
    :data-idle="job.idle"
  >
    <template v-if="begun">
      <JobHead :stage="stage.id" />
      <DocketBar :stage="stage.id" />
      <div class="body" :class="stage.id" :style="{ '--side': `${side}px` }">
        <div
          class="middle"
          :class="{ divided: above !== null }"
          :style="{ '--above': `${settings.above}%` }"
        >
          <component :is="above" v-if="above && setUp >= 1" />
          <AboveEdge v-if="above" v-model="settings.above" />
          <SheetView v-if="setUp >= 1" />
          <CloseUp v-if="hand.open" />
        </div>
        <PartsColumn v-if="setUp >= 2" class="left" />
        <aside ref="tools" class="side" tabindex="-1" :aria-label="`${stage.name} tools`">
          <component :is="panel" v-if="panel && setUp >= 3" />
        </aside>
        <SideEdge v-model="side" class="edge" />
      </div>
      <div class="foot">
        <SetStrip v-if="route.query['set']" />
        <NoticeBar />
        <ProblemList />
        <TryOutWheel v-if="wheel.open" />
        <PulseBar
          v-if="setUp >= 4"
          class="pulse-bar"
          @pointerenter.once="near"
          @focusin.once="near"
        />
      </div>
    </template>
    <div class="sr" aria-live="polite">{{ job.said }}</div>
    <LeaveUnkept v-if="leaving" @leave="leaving?.(true)" @stay="leaving?.(false)" />
  </div>
</template>

<style scoped>
/* The column is as wide as the window: a sheet that was painted wider does not hold it open. */
.job {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: 52px minmax(42px, auto) minmax(0, 1fr) auto;
  height: 100%;
}

/* Where reading begins anew; there is nothing to press that a ring would point to. */
.job:focus-visible,
.side:focus-visible {
  outline: none;
}

.body {
  display: grid;
  grid-template-columns: 208px minmax(320px, 1fr) minmax(240px, var(--side));
  min-height: 0;
}

.foot {
  min-height: 66px;
}

.pulse-bar {
  min-height: 66px;
}

.middle {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
}

.middle.divided {
  grid-template-rows: minmax(120px, var(--above)) 7px minmax(0, 1fr) auto;
}

.left,
.side {
  min-height: 0;
}

.left {
  grid-row: 1;
  grid-column: 1;
  border-right: 1px solid var(--line);
}

.body > :nth-child(1) {
  grid-row: 1;
  grid-column: 2;
}

.side {
  grid-row: 1;
  grid-column: 3;
  border-left: 1px dashed var(--line);
}

.edge {
  z-index: 2;
  grid-row: 1;
  grid-column: 3;
  justify-self: start;
}

@media (width <= 1100px) {
  .body {
    grid-template-columns: 176px minmax(300px, 1fr) minmax(240px, calc(var(--side) - 36px));
  }
}

@media (width >= 1700px) {
  .body {
    grid-template-columns: 250px minmax(320px, 1fr) minmax(240px, calc(var(--side) + 64px));
  }
}

@media (width <= 860px) {
  .body {
    grid-template-columns: 150px minmax(240px, 1fr) minmax(230px, 260px);
  }
}

/* A small window, or a large one looked at twice as large: one under the other, and the page scrolls. */
@media (width <= 720px) {
  .job {
    grid-template-rows: auto auto auto auto;
    /* As tall as what is in it: the pulse stays at the end of the window, not of the row. */
    align-self: start;
    height: auto;
    min-height: 100%;
  }

  .body {
    grid-template-rows: minmax(300px, 60vh) auto auto;
    grid-template-columns: minmax(0, 1fr);
  }

  .body > :nth-child(1),
  .left,
  .side {
    grid-column: 1;
    border: 0;
  }

  .left {
    grid-row: 3;
    border-top: 1px solid var(--line);
  }

  .side {
    grid-row: 2;
    max-height: 80vh;
    border-top: 1px solid var(--line);
  }

  .edge {
    display: none;
  }

  .foot {
    position: sticky;
    bottom: 0;
    z-index: 3;
    background: var(--band);
  }
}

.missing {
  display: grid;
  gap: 12px;
  padding: 14vh 12vw;
}
</style>
