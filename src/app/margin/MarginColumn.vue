<script setup lang="ts">
import { NSelect } from 'naive-ui';
import { computed, nextTick, ref, watch } from 'vue';
import { isUnsaid } from '../../core/target/unsaid';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useByAndBy } from '../kit/use-by-and-by';
import TabRow from '../kit/TabRow.vue';
import PlanList from '../stages/PlanList.vue';
import MarginNote from './MarginNote.vue';
import NotesTable from './NotesTable.vue';
import PresetTable from './PresetTable.vue';

const job = useJob();
const looking = useLooking();
const tab = ref<'notes' | 'plan' | 'table' | 'presets'>('notes');
const tabs = computed(() => [
  { id: 'notes' as const, name: 'Margin notes' },
  { id: 'plan' as const, name: 'Plan', count: job.plan?.now.steps.length ?? 0 },
  ...(job.target?.presets
    ? [{ id: 'presets' as const, name: 'Presets', title: 'Presets by marker' }]
    : [{ id: 'table' as const, name: 'Table', title: 'The notes of the sheet as a table' }]),
]);
const severity = ref<string>('all');
const part = ref<string>('all');
const rule = ref<string>('all');
const list = ref<HTMLElement>();

/** The focus stays here when what had it goes: a note that is mended, a step that is taken out. */
const margin = ref<HTMLElement>();
const inside = ref(false);
function leaves({ relatedTarget }: FocusEvent) {
  if (relatedTarget !== null) inside.value = margin.value?.contains(relatedTarget as Node) ?? false;
}
watch(
  () => job.revision,
  async () => {
    if (!inside.value) return;
    await nextTick();
    if (document.activeElement === document.body) (list.value ?? margin.value)?.focus();
  },
);

const parts = computed(() => {
  const named = new Set(job.findings.map((f) => f.part).filter((p) => p !== null));
  const found = job.shown?.delivered.parts.filter((p) => named.has(p.id)) ?? [];
  return [
    { label: 'All parts', value: 'all' },
    ...found.map((p) => ({ label: p.name, value: p.id })),
  ];
});
const rules = computed(() => [
  { label: 'All rules', value: 'all' },
  ...[...new Set(job.findings.map((f) => f.rule))].map((r) => ({ label: r, value: r })),
]);
const severities = [
  { label: 'All', value: 'all' },
  { label: 'Stops', value: 'stop' },
  { label: 'Cautions', value: 'caution' },
  { label: 'Remarks', value: 'remark' },
];
const shown = computed(() =>
  job.findings.filter(
    (f) =>
      (severity.value === 'all' || f.severity === severity.value) &&
      (part.value === 'all' || f.part === part.value) &&
      (rule.value === 'all' || f.rule === rule.value),
  ),
);

/** A note with its mends takes some milliseconds, and there may be hundreds. */
const setUp = useByAndBy(() => shown.value.length, 2);

watch(
  () => looking.finding,
  async (key) => {
    if (!key) return;
    // A filter that hides it gives way.
    if (!shown.value.some((f) => f.key === key)) severity.value = part.value = rule.value = 'all';
    if (tab.value === 'plan') tab.value = 'notes';
    const before = shown.value.findIndex((f) => f.key === key);
    setUp.value = Math.max(setUp.value, before + 1);
    await nextTick();
    list.value
      ?.querySelector(`[data-finding="${CSS.escape(key)}"]`)
      ?.scrollIntoView({ block: 'nearest' });
  },
);
</script>

<template>
  <section
    ref="margin"
    class="margin"
    aria-label="Margin"
    tabindex="-1"
    @focusin="inside = true"
    @focusout="leaves"
  >
    <TabRow v-model="tab" class="row" label="Margin" :tabs="tabs" />
    <NotesTable v-if="tab === 'table'" class="list table" />
    <PresetTable v-else-if="tab === 'presets'" class="list" />
    <PlanList v-else-if="tab === 'plan'" class="list" />
    <template v-else>
      <div v-if="job.findings.length > 1" class="filters">
        <NSelect v-model:value="severity" size="tiny" :options="severities" aria-label="Severity" />
        <NSelect
          v-model:value="part"
          size="tiny"
          :options="parts"
          :consistent-menu-width="false"
          aria-label="Part"
        />
        <NSelect
          v-model:value="rule"
          size="tiny"
          :options="rules"
          :consistent-menu-width="false"
          aria-label="Rule"
        />
      </div>
      <div
        ref="list"
        class="list"
        :aria-busy="setUp < shown.length"
        tabindex="0"
        role="region"
        aria-label="Margin notes; arrow keys walk through them"
        @keydown.down.self.prevent="looking.walk(1)"
        @keydown.up.self.prevent="looking.walk(-1)"
      >
        <MarginNote
          v-for="finding in shown.slice(0, setUp)"
          :key="finding.key"
          :finding="finding"
        />
        <p v-if="isUnsaid(job.target)" class="serif clear">
          Nothing is judged yet.
          <RouterLink :to="`/job/${job.record?.id}/intake`">Say what it is for</RouterLink>, and
          every place where that would refuse or misplay it is marked in the music.
        </p>
        <p v-else-if="job.standing === 'stopped'" class="serif clear">
          Not proofed: the findings of this plan are not known.
          <button class="link" type="button" @click="job.proofAgain()">Proof again</button>
        </p>
        <p v-else-if="job.shown && job.findings.length === 0" class="serif clear">
          Nothing to mend. {{ job.target?.name }} takes it as it stands; hand it over.
        </p>
        <p v-else-if="job.shown && shown.length === 0" class="serif clear">
          No finding matches. Show all again above.
        </p>
      </div>
    </template>
  </section>
</template>

<style scoped>
.margin {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: 40px auto minmax(0, 1fr);
  height: 100%;
}

.row {
  padding: 0 12px;
}

.filters {
  display: grid;
  grid-template-columns: 0.8fr 1fr 1fr;
  gap: 5px;
  padding: 6px 12px 8px;
}

.list {
  grid-row: 3;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 9px;
  align-content: start;
  padding: 4px 12px 16px;
  overflow: auto;
}

.table {
  height: 100%;
}

.clear {
  padding: 10px 2px;
  font-size: 16px;
}
</style>
