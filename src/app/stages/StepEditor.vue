<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { computed, h, ref, watch } from 'vue';
import type { PlanStep } from '../../core/plan/plan';
import { REACHES, type Scope, type StepCall } from '../../core/steps/call';
import { engine } from '../stores/engine';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { knownValues, type Shape } from '../kit/shapes';
import StepFields from './StepFields.vue';
import { shapeOf, useStepForms } from './step-forms';

/** Adds a step of the user's choice, or edits one that is in the plan. */
const props = defineProps<{ step?: PlanStep; only?: readonly string[] }>();
const emit = defineEmits<{ done: [] }>();
const job = useJob();
const looking = useLooking();
const forms = useStepForms();
const chosen = ref<string | null>(props.step?.step ?? null);
const values = ref<Record<string, unknown>>((props.step?.params as Record<string, unknown>) ?? {});
const problem = ref<string | null>(null);
type ScopeChoice = 'all' | 'part' | 'notes' | 'kept';
const reach = ref<ScopeChoice>(props.step ? 'kept' : 'all');
const fromBar = ref<number | null>(null);
const toBar = ref<number | null>(null);

const options = computed(() =>
  forms.value
    .filter((f) => !props.only || props.only.includes(f.id))
    .map((f) => ({ label: f.title, value: f.id, summary: f.summary })),
);
interface StepOption {
  readonly label: string;
  readonly value: string;
  readonly summary: string;
}
/** A step is found by what it is called and by what it does. */
const matches = (typed: string, option: unknown) => {
  const { label, summary } = option as StepOption;
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return words.every((w) => `${label} ${summary}`.toLowerCase().includes(w));
};
const sayOption = (option: unknown) => {
  const { label, summary } = option as StepOption;
  return h('div', { class: 'step-option' }, [
    h('strong', label),
    h('span', { class: 'soft' }, summary),
  ]);
};
const form = computed(() => forms.value.find((f) => f.id === chosen.value) ?? null);
const shape = computed<Shape>(() => (form.value ? shapeOf(form.value) : {}));
watch(chosen, () => {
  if (reach.value !== 'kept') reach.value = 'all';
  values.value = knownValues(shape.value);
  problem.value = null;
});

const part = computed(() => looking.piece?.parts.find((p) => p.id === looking.part) ?? null);
/** How far down the step can be held: only scopes that it honours are offered. */
const finest = computed(() => REACHES.indexOf(form.value?.reach ?? 'piece'));
const canStretch = computed(() => finest.value >= REACHES.indexOf('stretch'));
const reaches = computed(() => [
  ...(props.step ? [{ label: 'as it is now', value: 'kept' }] : []),
  { label: 'everything', value: 'all' },
  ...(part.value && finest.value >= REACHES.indexOf('parts')
    ? [{ label: part.value.name, value: 'part' }]
    : []),
  ...(looking.chosen.size > 0 && finest.value >= REACHES.indexOf('notes')
    ? [{ label: `the ${looking.chosen.size} chosen notes`, value: 'notes' }]
    : []),
]);

async function scope(): Promise<Scope> {
  const bars = looking.piece?.bars;
  const stretch =
    bars && canStretch.value && (fromBar.value !== null || toBar.value !== null)
      ? {
          fromTick: bars.barStart((fromBar.value ?? 1) - 1),
          ...(toBar.value === null ? {} : { toTick: bars.barStart(toBar.value) }),
        }
      : {};
  // Bars are those of the sheet; what is stored counts in the ticks of what came in.
  const kept = job.onBase(stretch);
  if (reach.value === 'kept') return { ...props.step!.scope, ...kept };
  if (reach.value === 'part' && part.value) return { parts: [part.value.ref], ...kept };
  if (reach.value === 'notes') return { notes: await looking.addresses(), ...kept };
  return kept;
}

async function apply() {
  if (!chosen.value) return;
  if (fromBar.value !== null && toBar.value !== null && toBar.value < fromBar.value) {
    problem.value = `Bar ${toBar.value} stands before bar ${fromBar.value}: nothing lies between them.`;
    return;
  }
  // Plain data: what the form holds is watched, and neither crosses to the worker nor is stored.
  const still = job.still();
  const call = JSON.parse(
    JSON.stringify({
      step: chosen.value,
      params: values.value,
      scope: await scope(),
      on: props.step?.on ?? true,
    }),
  ) as StepCall;
  const seats = job.target?.seats.map(({ id, name }) => ({ id, name })) ?? [];
  const checked = await engine().plain.checkStep(call, { seats });
  problem.value = checked.problem;
  if (checked.problem !== null || !still()) return;
  if (props.step) job.editStep(props.step.key, call, `Edited: ${checked.says}`);
  else job.addSteps(checked.says, [call]);
  emit('done');
}
</script>

<template>
  <form class="editor" @submit.prevent="apply">
    <NSelect
      v-if="!step"
      v-model:value="chosen"
      size="small"
      filterable
      :input-props="{ 'aria-label': 'Step' }"
      placeholder="Choose a step"
      :options="options"
      :filter="matches"
      :render-label="sayOption"
      :consistent-menu-width="false"
      aria-label="Step"
    />
    <template v-if="form">
      <p class="soft">{{ form.summary }}</p>
      <StepFields v-model="values" :shape="shape" />
      <label class="field">
        <span class="label">For</span>
        <NSelect v-model:value="reach" size="small" :options="reaches" aria-label="For" />
      </label>
      <div v-if="canStretch" class="bars">
        <NInputNumber
          v-model:value="fromBar"
          size="small"
          :min="1"
          clearable
          placeholder="from bar"
          :show-button="false"
          :input-props="{ 'aria-label': 'From bar' }"
        />
        <NInputNumber
          v-model:value="toBar"
          size="small"
          :min="fromBar ?? 1"
          clearable
          placeholder="to bar"
          :show-button="false"
          :input-props="{ 'aria-label': 'To bar' }"
        />
      </div>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div class="row">
        <NButton size="small" type="primary" attr-type="submit" :disabled="job.readOnly">
          {{ step ? 'Change the step' : 'Add to the plan' }}
        </NButton>
        <NButton v-if="step" size="small" quaternary @click="emit('done')">Not now</NButton>
      </div>
    </template>
  </form>
</template>

<style scoped>
.editor {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.bars {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.problem {
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}

.row {
  display: flex;
  gap: 8px;
}
</style>
