<script setup lang="ts">
import { refOf } from '../../core/sources/which';
import { NSelect } from 'naive-ui';
import { useDebounceFn } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Plan } from '../../core/plan/plan';
import type { Target } from '../../core/target/schema';
import type { FindingView } from '../../worker/run-protocol';
import SeverityMark from '../margin/SeverityMark.vue';
import TallyDots from '../margin/TallyDots.vue';
import { EMPTY_STATE, sourcesOf, type JobRecord } from '../storage/job';
import { engine } from '../stores/engine';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';

/** A job held against a target while that is changed: its findings follow every number. */
const props = defineProps<{
  target: Target | null;
  /** The target as it is kept: what a change brings or takes is told against it. */
  before?: Target | null;
  id: string;
  loaded: boolean;
}>();
const shelf = useShelf();
const targets = useTargets();
const using = computed(() => targets.jobsOf(props.id, shelf.jobs));

const jobId = ref<string | null>(null);
const tally = shallowRef<{ stops: number; cautions: number; remarks: number } | null>(null);
const findings = shallowRef<readonly FindingView[]>([]);
const trying = ref(false);
const jobs = computed(() => shelf.jobs.map((j) => ({ label: j.title, value: j.id })));
watch(
  () => [props.loaded, shelf.jobs] as const,
  () => {
    if (!props.loaded || jobId.value !== null) return;
    jobId.value = (using.value[0] ?? shelf.jobs[0])?.id ?? null;
  },
  { immediate: true },
);

let round = 0;
const ask = (job: JobRecord, target: Target) => {
  const own = job.plans.find((p) => p.targetId === props.id)?.now ?? EMPTY_STATE;
  return engine().ask('run', {
    sources: sourcesOf(job).map(refOf),
    // Plain data: what is watched does not cross to the worker.
    target: JSON.parse(JSON.stringify(target)) as Target,
    plan: JSON.parse(JSON.stringify({ uses: own.uses, steps: own.steps })) as Plan,
    leftAsIs: own.leftAsIs,
    known: [],
  }).result;
};
/** The findings of the target as it is kept, for the job that is held. */
const kept = shallowRef<{ for: string; keys: ReadonlySet<string> } | null>(null);
const hold = useDebounceFn(async () => {
  const job = shelf.jobs.find((j) => j.id === jobId.value);
  const { target, before } = props;
  if (!job || !target) return;
  const mine = ++round;
  trying.value = true;
  const sign = before ? `${job.id} ${before.id} ${before.version}` : '';
  if (before && kept.value?.for !== sign) {
    const was = await ask(job, before);
    if (mine !== round) return;
    kept.value = was ? { for: sign, keys: new Set(was.findings.map((f) => f.key)) } : null;
  }
  const view = await ask(job, target);
  if (mine !== round) return;
  trying.value = false;
  if (!view) return;
  const { stops, cautions, remarks } = view.tally;
  tally.value = { stops, cautions, remarks };
  findings.value = view.findings;
}, 150);
const isNew = (key: string) => kept.value !== null && !kept.value.keys.has(key);
const moved = computed(() => {
  if (!kept.value) return null;
  const now = new Set(findings.value.map((f) => f.key));
  const come = [...now].filter(isNew).length;
  const gone = [...kept.value.keys].filter((k) => !now.has(k)).length;
  if (come + gone === 0) return null;
  return [come > 0 ? `${come} more` : '', gone > 0 ? `${gone} gone` : '']
    .filter(Boolean)
    .join(', ');
});
watch([() => props.target, jobId], () => void hold(), { immediate: true });
</script>

<template>
  <aside class="beside" aria-label="A job held against it">
    <label>
      <span class="label">Held against it as you change it</span>
      <NSelect
        v-model:value="jobId"
        size="small"
        :options="jobs"
        placeholder="No job on the desk"
        aria-label="Job to try it on"
      />
    </label>
    <div v-if="tally" class="tally" :class="{ trying }">
      <TallyDots :tally="tally" />
      <span v-if="moved" class="moved" aria-live="polite">{{ moved }} since it was saved</span>
      <RouterLink v-if="using.some((j) => j.id === jobId)" :to="`/job/${jobId}/proof`" class="soft"
        >Open the proof</RouterLink
      >
    </div>
    <ol class="findings" :class="{ trying }">
      <li v-for="(f, i) in findings" :key="f.key" :class="{ fresh: isNew(f.key) }">
        <SeverityMark :severity="f.severity" :text="i + 1" />
        <div>
          <strong>{{ f.title }}</strong>
          <span class="soft where">{{ f.where }}</span>
          <p>{{ f.wrong }}</p>
        </div>
      </li>
    </ol>
    <p v-if="tally && findings.length === 0" class="serif">
      Nothing is found: this target would take it as it is.
    </p>
  </aside>
</template>

<style scoped>
.beside {
  min-height: 0;
  overflow: auto;
  padding: 14px 0 30px 18px;
  border-left: 1px solid var(--line);
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.tally {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 12px 0 6px;
}

.trying {
  opacity: 0.55;
}

.findings {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.findings li {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px;
  padding: 6px 8px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

.findings .fresh {
  border-left: 3px solid var(--quill);
}

.moved {
  color: var(--quill);
  font: italic 14px var(--serif);
}

.where {
  margin-left: 7px;
}

.findings p {
  font-family: var(--serif);
}
</style>
