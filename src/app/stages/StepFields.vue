<script setup lang="ts">
import { computed } from 'vue';
import ShapeField from '../kit/ShapeField.vue';
import { describedLabel, kindOf, knownValues, type Shape } from '../kit/shapes';
import { rowKeys } from './row-keys';

/** The parameters of a step as fields, made from its schema. */
const values = defineModel<Record<string, unknown>>({ required: true });
const props = defineProps<{ shape: Shape }>();
const required = computed(() => new Set(props.shape.required ?? []));
const entries = computed(() => Object.entries(props.shape.properties ?? {}));

function set(name: string, value: unknown) {
  const next = { ...values.value };
  if (value === null || value === undefined || value === '') delete next[name];
  else next[name] = value;
  values.value = next;
}

const keys = rowKeys();
const rowsOf = (name: string) => (values.value[name] as Record<string, unknown>[]) ?? [];
function setRow(name: string, i: number, row: Record<string, unknown> | null) {
  const list = [...rowsOf(name)];
  if (row === null) {
    list.splice(i, 1);
    keys.drop(name, i);
  } else list[i] = row;
  set(name, list);
}
</script>

<template>
  <div class="fields">
    <template v-for="[name, field] in entries" :key="name">
      <div v-if="kindOf(field) === 'list'" class="rows">
        <span class="label">{{ describedLabel(name, field) }}</span>
        <div
          v-for="(row, i) in rowsOf(name)"
          :key="keys.of(name, rowsOf(name).length)[i]!"
          class="one-row"
        >
          <StepFields
            :model-value="row"
            :shape="field.items!"
            @update:model-value="setRow(name, i, $event)"
          />
          <button type="button" class="link" @click="setRow(name, i, null)">
            take this one away
          </button>
        </div>
        <button
          type="button"
          class="link"
          @click="setRow(name, rowsOf(name).length, knownValues(field.items!))"
        >
          add one
        </button>
      </div>
      <ShapeField
        v-else
        :shape="field"
        :value="values[name]"
        :label="describedLabel(name, field)"
        :needed="required.has(name)"
        unset="not set"
        @set="set(name, $event)"
      />
    </template>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

.one-row {
  padding: 4px 0 4px 10px;
  border-left: 2px solid var(--line);
}

.rows {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}

.label {
  color: var(--ink-2);
  font-size: 12px;
}
</style>
