<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import type { Fit } from '../../core/plan/fit';
import type { Target } from '../../core/target/schema';
import { isUnsaid } from '../../core/target/unsaid';
import { gladness, sayFit } from '../fit/say-fit';
import TargetPicture from '../rehearsal/TargetPicture.vue';
import { useByAndBy } from '../kit/use-by-and-by';
import { sideEngine } from '../stores/engine';
import { useJob } from '../stores/job';
import { useSettings } from '../stores/settings';
import { useTargets } from '../stores/targets';

/** The first question to a file: what is it for; and which targets would take it, and how. */
const job = useJob();
const targets = useTargets();
const settings = useSettings();
/** A larger one is tried when it is asked for. */
const MOST_NOTES = 20_000;
const fits = shallowRef<ReadonlyMap<string, Fit>>(new Map());
const done = ref(0);
const running = ref(false);
let round = 0;
let soon = 0;

const notes = computed(() => job.source?.inventory?.notes ?? null);
const rows = computed(() => {
  const all = targets.all.map((target) => ({ target, fit: fits.value.get(target.id) ?? null }));
  // The order changes once, when all are known; what was chosen last time is offered first.
  const last = ({ target }: (typeof all)[number]) => Number(target.id === settings.lastTarget);
  if (running.value || fits.value.size === 0) return all.sort((a, b) => last(b) - last(a));
  const glad = (fit: Fit | null) => (fit ? gladness(fit) : -Infinity);
  return all.sort((a, b) => last(b) - last(a) || glad(b.fit) - glad(a.fit));
});

const setUp = useByAndBy(() => rows.value.length, 2);

async function tryAll() {
  const mine = ++round;
  const request = job.request();
  if (!request) return;
  running.value = true;
  done.value = 0;
  const found = new Map<string, Fit>();
  for (const target of targets.all) {
    const call = sideEngine().ask('fit', {
      sources: request.sources,
      target,
      plan: { ...(request.plan.uses ? { uses: request.plan.uses } : {}), steps: [] },
    });
    const fit = await call.result.catch(() => null);
    if (mine !== round) return call.cancel();
    if (fit) fits.value = new Map(found.set(target.id, fit));
    done.value++;
  }
  running.value = false;
}
function stop() {
  round++;
  running.value = false;
}
onMounted(targets.load);
watch(
  notes,
  (n) => {
    // What is in front of the eye comes first: the trials have a core to themselves, if there is one.
    cancelIdleCallback(soon);
    if (n !== null && n <= MOST_NOTES)
      soon = requestIdleCallback(() => void tryAll(), { timeout: 1500 });
  },
  { immediate: true },
);
onBeforeUnmount(() => {
  cancelIdleCallback(soon);
  stop();
});
function choose(target: Target) {
  settings.lastTarget = target.id;
  return job.chooseTarget(target);
}
</script>

<template>
  <section class="for" aria-labelledby="for-title">
    <h3 id="for-title" class="serif">What is it for?</h3>
    <p class="soft">
      <template v-if="isUnsaid(job.target)">Nothing is judged before that is said.</template>
      <template v-else>Until that is said it is held against {{ job.target?.name }}.</template>
      It can be changed at any time.
    </p>
    <p v-if="running" class="soft" role="status">
      Tried on {{ done }} of {{ targets.all.length }}…
      <NButton size="tiny" @click="stop">Stop</NButton>
    </p>
    <p v-else-if="fits.size === 0">
      <NButton size="small" @click="tryAll">Which of them fit?</NButton>
    </p>
    <ul class="list">
      <li v-for="{ target, fit } in rows.slice(0, setUp)" :key="target.id">
        <button class="row" type="button" :disabled="job.readOnly" @click="choose(target)">
          <TargetPicture :target="target" :width="72" :height="32" />
          <span class="name">
            <strong>{{ target.name }}</strong>
            <span class="soft">{{ target.summary }}</span>
            <span v-if="fit || target.id === settings.lastTarget" class="fit">{{
              [
                ...(target.id === settings.lastTarget ? ['as last time'] : []),
                ...(fit ? [sayFit(fit)] : []),
              ].join(', ')
            }}</span>
          </span>
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.for {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  margin-bottom: 14px;
  padding: 10px 12px;
  border: 1px solid var(--quill);
  border-radius: 6px;
  background: var(--page);
}

h3 {
  margin: 0;
  font-size: 18px;
}

.list {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
  max-height: 372px;
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

.row {
  display: flex;
  gap: 10px;
  align-items: center;
  width: 100%;
  padding: 3px 4px;
  border: 1px solid transparent;
  border-radius: 5px;
  background: none;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}

.row:hover,
.row:focus-visible {
  border-color: var(--quill);
  background: var(--quill-wash);
}

.name {
  display: grid;
  min-width: 0;
}

.name .soft,
.fit {
  font-size: 12px;
  line-height: 1.25;
}

.fit {
  color: var(--moss-text);
}
</style>
