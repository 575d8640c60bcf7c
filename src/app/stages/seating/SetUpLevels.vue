<script setup lang="ts">
import { NInputNumber } from 'naive-ui';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import { SET_UP } from './set-up';

/** What a part sets up at its start, one value each; emptied it is again as the file has it. */
const props = defineProps<{ part: PartView; controllers: readonly (typeof SET_UP)[number][] }>();
const job = useJob();

const ofPart = (step: { scope: { parts?: readonly object[] } }) =>
  step.scope.parts?.length === 1 &&
  JSON.stringify(step.scope.parts[0]) === JSON.stringify(props.part.ref);
const stepOf = (controller: number) =>
  job.plan?.now.steps.find(
    (s) =>
      s.step === 'set-controller' &&
      (s.params as { controller?: number }).controller === controller &&
      ofPart(s),
  ) ?? null;
const valueOf = (controller: number) =>
  (stepOf(controller)?.params as { value?: number } | undefined)?.value ?? null;

function set({ number: controller, name }: (typeof SET_UP)[number], value: number | null) {
  if (value === valueOf(controller)) return;
  const there = stepOf(controller);
  const did = `${props.part.name}: ${name.toLowerCase()} ${value ?? 'as written'}`;
  const call = {
    step: 'set-controller',
    params: { controller, value },
    scope: { parts: [props.part.ref] },
    on: true,
  };
  if (value === null) {
    if (there) job.removeStep(there.key, did);
  } else if (there) job.editStep(there.key, call, did);
  else job.addSteps(did, [call]);
}
</script>

<template>
  <div class="set-up">
    <label v-for="c in controllers" :key="c.number">
      <span class="soft" :title="`Controller ${c.number}, once at the start`">{{ c.name }}</span>
      <NInputNumber
        size="small"
        :value="valueOf(c.number)"
        :min="0"
        :max="127"
        :show-button="false"
        :update-value-on-input="false"
        placeholder="as it is"
        :disabled="job.readOnly"
        :input-props="{ 'aria-label': `${c.name} of ${part.name} at the start` }"
        @update:value="(v: number | null) => set(c, v)"
      />
    </label>
  </div>
</template>

<style scoped>
.set-up {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px;
  max-width: 300px;
  font-size: 12px;
}
</style>
