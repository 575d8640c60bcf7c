<script setup lang="ts">
import { FIGURES, sayFigures } from '../../core/compare/say-figures';
import { NButton, NInput, NSelect } from 'naive-ui';
import AskFirst from '../kit/AskFirst.vue';
import { Download, Trash2 } from '@lucide/vue';
import { watchDebounced } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { saveFile } from '../storage/save-file';
import { isUnsaid } from '../../core/target/unsaid';
import { activePlan, type JobRecord } from '../storage/job';
import { engine, sideEngine } from '../stores/engine';
import { usePictures } from '../stores/pictures';
import { useShelf } from '../stores/shelf';
import EmptyDesk from './EmptyDesk.vue';
import JobPicture from './JobPicture.vue';
import TallyDots from '../margin/TallyDots.vue';
import { useByAndBy } from '../kit/use-by-and-by';
import WithSound from '../kit/WithSound.vue';
import { useFiles } from '../kit/use-files';

const emit = defineEmits<{ files: [files: File[]] }>();
const shelf = useShelf();
const pictures = usePictures();
const router = useRouter();

// What the first drop needs is loaded while nothing else is to be done.
onMounted(() =>
  requestIdleCallback(() => {
    void import('../job/JobView.vue');
    void engine().plain.catalogue();
    void sideEngine().plain.catalogue();
  }),
);

const open = (job: JobRecord) => router.push(`/job/${job.id}/proof`);
const WHEN = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});
const when = (stamp: number) => WHEN.format(stamp);

/** Any file: what is of no use is said, as of what is dropped. */
const choose = useFiles('', (files) => emit('files', files));

const search = ref('');
const order = ref<'changed' | 'title' | 'target' | 'stops'>('changed');
const ORDERS = [
  { label: 'Last change first', value: 'changed' },
  { label: 'By title', value: 'title' },
  { label: 'By target', value: 'target' },
  { label: 'Most stops first', value: 'stops' },
];
const tallyOf = (job: JobRecord) => job.tally ?? pictures.rows.get(job.id)?.tally ?? null;
/** "kept 92 % · tune 98 %, bass 100 % · 3 choices"; nothing where all is there and chosen. */
function moreOf(job: JobRecord): string {
  const { kept = 100, choices = 0, figures } = tallyOf(job) ?? {};
  const whole = figures && FIGURES.every((f) => (figures[f] ?? 1) >= 1);
  return [
    kept < 100 ? `kept ${kept} %` : '',
    figures && !whole ? sayFigures(figures) : '',
    choices > 0 ? `${choices} ${choices === 1 ? 'choice' : 'choices'}` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}
const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const list = shelf.jobs.filter((job) =>
    [job.title, activePlan(job).target.name, ...job.sources.map((s) => s.name)]
      .join(' ')
      .toLowerCase()
      .includes(wanted),
  );
  const by: Record<typeof order.value, (a: JobRecord, b: JobRecord) => number> = {
    changed: () => 0,
    title: (a, b) => a.title.localeCompare(b.title),
    target: (a, b) => activePlan(a).target.name.localeCompare(activePlan(b).target.name),
    stops: (a, b) => (tallyOf(b)?.stops ?? 0) - (tallyOf(a)?.stops ?? 0),
  };
  return list.sort(by[order.value]);
});
const setUp = useByAndBy(() => shown.value.length, 6);
// Pictures are drawn when nothing else is to be done, and no longer when the list is left.
watchDebounced(
  () => shelf.jobs,
  (jobs) => void pictures.fill(jobs),
  { immediate: true, debounce: 400 },
);
onBeforeUnmount(pictures.stop);

async function save(job: JobRecord) {
  const bytes = await shelf.exportById(job.id);
  if (bytes) saveFile(bytes, `${job.title}.quilljob`, 'application/zip');
}
</script>

<template>
  <section class="jobs" aria-labelledby="jobs-title">
    <header class="head">
      <h1 id="jobs-title">Jobs</h1>
      <div class="tools">
        <NInput
          v-if="shelf.jobs.length > 3"
          v-model:value="search"
          class="search"
          clearable
          placeholder="Find a job"
          :input-props="{ 'aria-label': 'Find a job' }"
        />
        <NSelect
          v-if="shelf.jobs.length > 3"
          v-model:value="order"
          class="order"
          :options="ORDERS"
          aria-label="Order of the jobs"
        />
        <NButton v-if="shelf.jobs.length > 0" @click="shelf.seedDemo()">
          Lantern week demo
        </NButton>
        <NButton type="primary" @click="choose()">Bring in files</NButton>
      </div>
    </header>

    <div v-if="shelf.loaded && shelf.jobs.length === 0" class="empty">
      <EmptyDesk />
      <h2>Nothing is on the desk yet</h2>
      <p class="serif">
        Drop a MIDI file anywhere in this window. You see what is in it and choose what it is for.
        Every place where the target would refuse or misplay it is marked in the music, with a mend
        beside it. Your file is never changed; what you hand over is written anew and read back.
      </p>
      <div class="ways">
        <NButton type="primary" size="large" @click="choose()">Bring in files</NButton>
        <NButton size="large" @click="shelf.seedDemo()">Open the lantern week demo</NButton>
      </div>
    </div>

    <table v-else-if="shelf.loaded" class="list" :aria-busy="setUp < shown.length">
      <thead>
        <tr>
          <th scope="col">Title</th>
          <th scope="col" class="drawn"><span class="sr">Picture</span></th>
          <th scope="col" class="source">Source</th>
          <th scope="col">Target</th>
          <th scope="col">Findings</th>
          <th scope="col" class="handed">Handovers</th>
          <th scope="col" class="when">Last change</th>
          <th scope="col"><span class="sr">More</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="job in shown.slice(0, setUp)" :key="job.id" @click="open(job)">
          <th scope="row">
            <span class="called">
              <RouterLink :to="`/job/${job.id}/proof`" @click.stop>{{ job.title }}</RouterLink>
              <WithSound v-if="job.sound" :name="job.sound.name" />
            </span>
          </th>
          <td class="drawn">
            <JobPicture
              :picture="pictures.rows.get(job.id)"
              :judged="!isUnsaid(activePlan(job).target)"
            />
          </td>
          <td class="soft source" :title="job.sources.map((s) => s.name).join(', ')">
            {{ job.sources[0]?.name }}
          </td>
          <td>
            <span v-if="isUnsaid(activePlan(job).target)" class="soft">no target yet</span>
            <template v-else>{{ activePlan(job).target.name }}</template>
            <span v-if="job.plans.length > 1" class="soft">
              {{ ' ' }}and {{ job.plans.length - 1 }} more</span
            >
          </td>
          <td>
            <TallyDots
              v-if="tallyOf(job) && !isUnsaid(activePlan(job).target)"
              :tally="tallyOf(job)!"
            />
            <span v-if="moreOf(job) && !isUnsaid(activePlan(job).target)" class="soft more-said">{{
              moreOf(job)
            }}</span>
            <span v-if="isUnsaid(activePlan(job).target)" class="soft">not judged yet</span>
            <span v-else-if="!tallyOf(job)" class="soft">not looked at yet</span>
          </td>
          <td class="number handed">
            {{ job.plans.reduce((n, p) => n + p.handovers, 0) || '' }}
          </td>
          <td class="soft when" :title="new Date(job.changedAt).toLocaleString('en-GB')">
            {{ when(job.changedAt) }}
          </td>
          <td class="more" @click.stop>
            <button
              class="icon"
              type="button"
              :aria-label="`Save ${job.title} as a file`"
              title="Save the job as a file"
              @click="save(job)"
            >
              <Download :size="16" />
            </button>
            <AskFirst
              v-slot="{ ask }"
              :title="`Remove “${job.title}”?`"
              says="Its plan and its handovers go with it. Files that you saved stay."
              yes="Remove the job"
              @yes="shelf.removeJob(job.id)"
            >
              <button
                class="icon"
                type="button"
                :aria-label="`Remove ${job.title}`"
                title="Remove the job"
                @click="ask"
              >
                <Trash2 :size="16" />
              </button>
            </AskFirst>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="shelf.jobs.length > 0 && shown.length === 0" class="soft none">
      No job has “{{ search }}” in its title, source or target.
    </p>
  </section>
</template>

<style scoped>
.jobs {
  height: 100%;
  padding: 22px 28px;
  overflow: auto;
}

.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 18px;
}

.head h1 {
  font-size: 24px;
}

.tools {
  display: flex;
  gap: 10px;
}

.search {
  width: 190px;
}

.order {
  width: 168px;
}

.more-said {
  display: block;
  margin-top: 2px;
  font-size: 12px;
}

.source {
  max-width: 190px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.when {
  white-space: nowrap;
}

.none {
  padding: 18px 0;
}

.empty {
  max-width: 960px;
  margin: 8vh auto 0;
}

.empty h2,
.empty p,
.ways {
  max-width: 620px;
  margin-right: auto;
  margin-left: auto;
}

.empty h2 {
  font-size: 24px;
}

.empty p {
  margin-top: 12px;
  margin-bottom: 22px;
  font-size: 17px;
  line-height: 1.5;
}

.ways {
  display: flex;
  gap: 12px;
}

.list {
  width: 100%;
  border-collapse: collapse;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--page);
}

.list th,
.list td {
  padding: 11px 14px;
  border-bottom: 1px solid var(--line);
  text-align: left;
  font-weight: 400;
}

.list tbody th {
  min-width: 180px;
}

.list thead th {
  color: var(--ink-2);
  font-size: 12px;
}

.list tbody tr {
  cursor: pointer;
}

.list tbody tr:hover {
  background: var(--paper);
}

.list tbody tr:last-child > * {
  border-bottom: 0;
}

.list tbody th a {
  color: var(--ink);
  font: 600 16px var(--serif);
  overflow-wrap: anywhere;
  text-decoration: none;
}

.list td.number {
  text-align: right;
}

.more {
  width: 76px;
  white-space: nowrap;
}

/* What cannot be seen in a narrow window stands in the job itself; saving and removing stay. */
@media (width <= 1180px) {
  .jobs {
    padding: 18px 16px;
  }

  .list .source {
    display: none;
  }

  .list th,
  .list td {
    padding: 9px 10px;
  }
}

@media (width <= 980px) {
  .list .handed {
    display: none;
  }

  .head,
  .tools {
    flex-wrap: wrap;
    gap: 8px;
  }
}

@media (width <= 820px) {
  .list .when,
  .list .drawn {
    display: none;
  }
}

/* The sign stays beside the title, on however many lines it is. */
.called {
  display: inline-flex;
  align-items: center;
}
</style>
