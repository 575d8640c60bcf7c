<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { useFileDialog } from '@vueuse/core';
import { computed, ref } from 'vue';
import { laneParams, parseScheme, schemes, type Scheme } from '../../core/target/scheme';
import { useJob } from '../stores/job';

/** How the keys of a chart are read: as its seats have them, or by a scheme; a step of the plan. */
const job = useJob();
const step = computed(() => job.plan?.now.steps.find((s) => s.step === 'read-lanes') ?? null);
const now = computed(() => (step.value?.params as { scheme: string } | undefined)?.scheme ?? null);
const lanes = computed(() => job.target?.seats.some((s) => s.kind === 'laneGroup') ?? false);
const known = computed(() => schemes.filter((s) => s.target === job.target?.id));
const options = computed(() => {
  const names = known.value.map((s) => s.name);
  const own = now.value && !names.includes(now.value) ? [now.value] : [];
  return [
    { label: 'as its seats have them', value: '' },
    ...[...names, ...own].map((name) => ({ label: name, value: name })),
  ];
});
const problem = ref<string | null>(null);

function use(scheme: Scheme | undefined) {
  problem.value = null;
  if (!scheme) {
    if (step.value && now.value !== null)
      job.removeStep(step.value.key, 'Read as its seats have them');
    return;
  }
  if (!job.target) return;
  const made = laneParams(scheme, job.target);
  if (made.problem !== undefined) {
    problem.value = made.problem;
    return;
  }
  const did = `Read as “${scheme.name}”`;
  const call = { step: 'read-lanes', params: made.params, scope: {}, on: true };
  if (step.value) job.editStep(step.value.key, { ...step.value, ...call }, did);
  else job.addSteps(did, [call]);
}
const choose = (name: string) => use(known.value.find((s) => s.name === name));

const { open, onChange } = useFileDialog({ accept: '.json', multiple: false, reset: true });
onChange(async (files) => {
  const file = files?.[0];
  if (!file) return;
  if (file.size > 1_000_000) {
    problem.value = `${file.name}: the file is too large to be a reading scheme.`;
    return;
  }
  const read = parseScheme(await file.text());
  if (read.problem !== undefined) problem.value = `${file.name}: ${read.problem}`;
  else use(read.scheme);
});
const outcome = computed(() => {
  const at = job.plan?.now.steps.findIndex((s) => s === step.value) ?? -1;
  const found = job.shown?.steps[at];
  return found?.refused ?? found?.effect ?? null;
});
</script>

<template>
  <section v-if="lanes" aria-labelledby="read-as-title">
    <h3 id="read-as-title">Read its keys</h3>
    <NSelect
      size="small"
      :value="now ?? ''"
      :options="options"
      :disabled="job.readOnly"
      aria-label="Read its keys"
      @update:value="choose"
    />
    <p v-if="outcome" class="soft">{{ outcome }}</p>
    <p v-if="problem" class="serif" role="alert">{{ problem }}</p>
    <NButton class="file" size="tiny" quaternary :disabled="job.readOnly" @click="open()">
      A scheme from a file…
    </NButton>
  </section>
</template>

<style scoped>
.file {
  margin-top: 4px;
}
</style>
