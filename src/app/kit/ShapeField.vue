<script setup lang="ts">
import { NCheckbox, NInput, NInputNumber, NSelect } from 'naive-ui';
import { computed } from 'vue';
import { choicesOf, kindOf, type Shape } from './shapes';

/** One value of a schema as a field; emptied it is taken away. */
const props = defineProps<{
  shape: Shape;
  value: unknown;
  label: string;
  needed: boolean;
  /** What an empty field says where it is not needed. */
  unset: string;
  unit?: string;
  problem?: string;
  /** The number was learnt from a file. */
  learnt?: boolean;
}>();
const emit = defineEmits<{ set: [value: unknown] }>();
const kind = computed(() => kindOf(props.shape));
const empty = computed(() => (props.needed ? 'needed' : props.unset));
const status = computed(() => (props.problem ? 'error' : undefined));
const options = computed(() =>
  choicesOf(props.shape).map((value) => ({ label: String(value), value })),
);

const numbersOf = (text: string): unknown => {
  const found = text.split(/[,\s]+/).filter(Boolean);
  return found.length === 0 ? undefined : found.map(Number);
};
const wordOrNumbers = (text: string): unknown =>
  /^[a-z-]+$/.test(text.trim()) ? text.trim() : numbersOf(text);
const linesOf = (text: string): unknown => (text === '' ? undefined : text.split('\n'));
const said = computed(() =>
  Array.isArray(props.value)
    ? props.value.join(kind.value === 'texts' ? '\n' : ', ')
    : String(props.value ?? ''),
);
</script>

<template>
  <label class="field" :class="kind" :title="shape.description">
    <span v-if="kind !== 'yes'" class="label">
      {{ label }} <span v-if="learnt" class="learnt">learnt</span>
    </span>
    <NInputNumber
      v-if="kind === 'whole' || kind === 'number'"
      size="small"
      :value="(value as number | undefined) ?? null"
      :min="shape.minimum"
      :max="shape.maximum"
      :precision="kind === 'whole' ? 0 : undefined"
      :placeholder="empty"
      :status="status"
      :input-props="{ 'aria-label': label }"
      @update:value="emit('set', $event)"
    >
      <template v-if="unit" #suffix>{{ unit }}</template>
    </NInputNumber>
    <NSelect
      v-else-if="kind === 'one-of' || kind === 'some-of'"
      size="small"
      :value="(value as never) ?? null"
      :options="options"
      :multiple="kind === 'some-of'"
      :clearable="!needed"
      :placeholder="empty"
      :aria-label="label"
      @update:value="emit('set', $event)"
    />
    <NCheckbox
      v-else-if="kind === 'yes'"
      :checked="value === true"
      @update:checked="emit('set', $event || (needed ? false : undefined))"
    >
      {{ label }} <span v-if="learnt" class="learnt">learnt</span>
    </NCheckbox>
    <NInput
      v-else-if="kind === 'texts'"
      type="textarea"
      size="small"
      :autosize="{ minRows: 2, maxRows: 8 }"
      :default-value="said"
      placeholder="one a line"
      :input-props="{ 'aria-label': label }"
      @update:value="emit('set', linesOf($event))"
    />
    <NInput
      v-else-if="kind === 'numbers' || kind === 'words-or-numbers'"
      size="small"
      :default-value="said"
      :placeholder="kind === 'numbers' ? 'numbers, with commas' : 'any, none, or numbers'"
      :status="status"
      :input-props="{ 'aria-label': label }"
      @update:value="emit('set', kind === 'numbers' ? numbersOf($event) : wordOrNumbers($event))"
    />
    <NInput
      v-else-if="kind === 'text'"
      size="small"
      :value="String(value ?? '')"
      :placeholder="empty"
      :status="status"
      :input-props="{ 'aria-label': label }"
      @update:value="emit('set', $event)"
    />
    <span v-else class="soft">in the text only</span>
    <span v-if="problem" class="problem">{{ problem }}</span>
  </label>
</template>

<style scoped>
.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.learnt {
  padding: 0 5px;
  border: 1px solid var(--ochre);
  border-radius: 4px;
  color: var(--ochre-text);
  font-size: 12px;
}

.problem {
  display: block;
  margin: 2px 0;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
  font-size: 12px;
}
</style>
