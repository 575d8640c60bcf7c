<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, ref, watch } from 'vue';
import { useTimeoutFn } from '@vueuse/core';
import { useRoute, useRouter } from 'vue-router';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { useSet, type SongLine } from '../stores/set';

/** A job that was opened from a set: where it stands in it, and the way on. */
const route = useRoute();
const router = useRouter();
const open = useSet();
const job = useJob();
const playing = usePlaying();
const id = computed(() => String(route.query['set']));
const at = computed(() => String(route.query['row']));
/** One song after the other: at the end of one the next is opened, and plays. */
const on = computed(() => route.query['on'] === '1');
watch(id, (set) => open.open(set), { immediate: true });

const songs = computed(() => open.lines.filter((l) => !l.row.aside && l.job));
const place = computed(() => songs.value.findIndex((l) => l.row.key === at.value));
const before = computed(() => songs.value[place.value - 1] ?? null);
const next = computed(() => songs.value[place.value + 1] ?? null);
const stop = computed(() => open.nextWithStop(at.value));

async function go(line: SongLine | null, goOn = on.value) {
  if (!line?.job) return;
  await open.turnTo(line);
  const query = { set: id.value, row: line.row.key, ...(goOn ? { on: '1' } : {}) };
  await router.push({ path: `/job/${line.job.id}/${String(route.params['stage'])}`, query });
}
const setOn = (to: boolean) =>
  router.replace({ query: { set: id.value, row: at.value, ...(to ? { on: '1' } : {}) } });

/** The silence between two songs, until the next begins. */
const BETWEEN_MS = 1500;
const startsBy = ref(false);
const { start: later, stop: notLater } = useTimeoutFn(
  () => {
    startsBy.value = true;
    void go(next.value);
  },
  BETWEEN_MS,
  { immediate: false },
);
watch(
  () => playing.ended,
  (times, before) => {
    if (times > before && on.value && next.value) later();
  },
);
// What was opened by going on plays by itself, once it is there.
watch(
  () => job.shown && job.record?.id,
  (there) => {
    if (!there || !startsBy.value) return;
    startsBy.value = false;
    if (!playing.playing) void playing.play();
  },
);
watch(on, (still) => {
  if (!still) notLater();
});
</script>

<template>
  <nav v-if="open.set" class="strip" :aria-label="`Set ${open.set.title}`">
    <RouterLink class="set serif" :to="`/sets/${open.set.id}`">{{ open.set.title }}</RouterLink>
    <span v-if="place >= 0" class="soft">song {{ place + 1 }} of {{ songs.length }}</span>
    <NButton size="tiny" :disabled="!before" @click="go(before)">Song before</NButton>
    <NButton size="tiny" :disabled="!next" :title="next?.title" @click="go(next)">
      Next song
    </NButton>
    <NButton size="tiny" :disabled="!stop" :title="stop?.title" @click="go(stop)">
      Next with a stop
    </NButton>
    <label class="on">
      <input
        type="checkbox"
        :checked="on"
        @change="setOn(($event.target as HTMLInputElement).checked)"
      />
      Go on to the next song at the end
    </label>
  </nav>
</template>

<style scoped>
.strip {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 5px 14px;
  border-top: 1px solid var(--line);
  background: var(--band);
}

.set {
  font-weight: 600;
}

.on {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-left: auto;
  cursor: pointer;
}

@media (width <= 860px) {
  .on {
    display: none;
  }
}
</style>
