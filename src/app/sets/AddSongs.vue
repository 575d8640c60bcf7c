<script setup lang="ts">
import { NButton, NInput } from 'naive-ui';
import { computed, ref } from 'vue';
import { SCORE_FILES } from '../../core/smf/name';
import { songsOf } from '../../core/sets/set';
import { count } from '../../core/target/words';
import { isUnsaid } from '../../core/target/unsaid';
import DialogCard from '../kit/DialogCard.vue';
import { useFiles } from '../kit/use-files';
import { activePlan } from '../storage/job';
import { useNewerExports } from '../stores/newer-exports';
import { useSet } from '../stores/set';
import { useSets } from '../stores/sets';
import { useShelf } from '../stores/shelf';

/** Songs for a set: jobs from the desk, those of another set, or files. */
const emit = defineEmits<{ close: [] }>();
const open = useSet();
const sets = useSets();
const shelf = useShelf();
const newer = useNewerExports();
const search = ref('');
const ticked = ref<string[]>([]);
const jobs = computed(() =>
  shelf.jobs.filter(
    (j) =>
      !isUnsaid(activePlan(j).target) &&
      `${j.title} ${activePlan(j).target.name}`
        .toLowerCase()
        .includes(search.value.trim().toLowerCase()),
  ),
);
const others = computed(() => sets.rows.filter((r) => r.id !== open.set?.id));
const inSet = computed(() => new Set(open.lines.map((l) => l.row.job)));

async function add() {
  const by = new Map(shelf.jobs.map((j) => [j.id, j]));
  await open.addJobs(ticked.value.flatMap((id) => by.get(id) ?? []));
  emit('close');
}
function fromSet(id: string) {
  const row = others.value.find((r) => r.id === id);
  if (row) ticked.value = [...new Set([...ticked.value, ...songsOf(row.set).map((s) => s.job)])];
}
const choose = useFiles(SCORE_FILES, (files) => {
  emit('close');
  void newer.take(files);
});
</script>

<template>
  <DialogCard title="Bring songs in" :width="620" @close="emit('close')">
    <div class="row">
      <NInput
        v-model:value="search"
        size="small"
        clearable
        placeholder="Find a job"
        :input-props="{ 'aria-label': 'Find a job' }"
      />
      <NButton size="small" @click="choose()">Files</NButton>
    </div>
    <p v-if="others.length > 0" class="soft small others">
      Tick those of
      <button
        v-for="o in others.slice(0, 5)"
        :key="o.id"
        class="link"
        type="button"
        @click="fromSet(o.id)"
      >
        {{ o.set.title }}
      </button>
    </p>
    <ul class="jobs">
      <li v-for="job in jobs" :key="job.id">
        <label>
          <input v-model="ticked" type="checkbox" :value="job.id" />
          <span class="serif">{{ job.title }}</span>
          <span class="soft">{{ activePlan(job).target.name }}</span>
          <span v-if="inSet.has(job.id)" class="soft small">in the set already</span>
        </label>
      </li>
    </ul>
    <p v-if="jobs.length === 0" class="soft">No job matches, or none has a target yet.</p>
    <div class="row end">
      <NButton type="primary" :disabled="ticked.length === 0" @click="add">
        {{ ticked.length === 0 ? 'Add songs' : `Add ${count(ticked.length, 'song')}` }}
      </NButton>
    </div>
  </DialogCard>
</template>

<style scoped>
.row {
  display: flex;
  gap: 10px;
  margin-top: 12px;
}

.end {
  justify-content: flex-end;
}

.others {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-top: 8px;
}

.jobs {
  max-height: 46vh;
  margin: 10px 0 0;
  padding: 0;
  overflow: auto;
  border-top: 1px solid var(--line);
  list-style: none;
}

.jobs label {
  display: grid;
  grid-template-columns: 20px minmax(0, 1.2fr) minmax(0, 1fr) 118px;
  gap: 8px;
  align-items: baseline;
  padding: 5px 2px;
  border-bottom: 1px solid var(--line);
  cursor: pointer;
}
</style>
