<script setup lang="ts">
import { NCheckbox, NInput, NInputNumber, NSelect } from 'naive-ui';
import { rowKeys } from './row-keys';
import { firstValues, type Field } from './step-forms';

/** The parameters of a step as fields, made from its schema. */
const values = defineModel<Record<string, unknown>>({ required: true });
defineProps<{ fields: readonly Field[] }>();

function set(name: string, value: unknown) {
  const next = { ...values.value };
  if (value === null || value === undefined || value === '') delete next[name];
  else next[name] = value;
  values.value = next;
}

const keys = rowKeys();
const rowsOf = (field: Field) => (values.value[field.name] as Record<string, unknown>[]) ?? [];
function setRow(field: Field, i: number, row: Record<string, unknown> | null) {
  const list = [...rowsOf(field)];
  if (row === null) {
    list.splice(i, 1);
    keys.drop(field.name, i);
  } else list[i] = row;
  set(field.name, list);
}

const asOptions = (choices: readonly (string | number)[]) =>
  choices.map((value) => ({ label: String(value), value }));
const asNumbers = (text: string) => {
  const found = text
    .split(/[,\s]+/)
    .filter(Boolean)
    .map(Number);
  return found.length === 0 ? undefined : found;
};
</script>

<template>
  <div class="fields">
    <component
      :is="field.kind === 'rows' ? 'div' : 'label'"
      v-for="field in fields"
      :key="field.name"
      class="field"
      :class="field.kind"
    >
      <span v-if="field.kind !== 'yes'" class="label">{{ field.label }}</span>
      <NInputNumber
        v-if="field.kind === 'whole' || field.kind === 'number'"
        size="small"
        :placeholder="field.required ? 'needed' : 'not set'"
        :value="(values[field.name] as number | undefined) ?? null"
        :min="field.lowest ?? undefined"
        :max="field.highest ?? undefined"
        :precision="field.kind === 'whole' ? 0 : undefined"
        :input-props="{ 'aria-label': field.label }"
        @update:value="set(field.name, $event)"
      />
      <NSelect
        v-else-if="field.kind === 'one-of' || field.kind === 'some-of'"
        size="small"
        :placeholder="field.required ? 'needed' : 'not set'"
        :multiple="field.kind === 'some-of'"
        :value="(values[field.name] as never) ?? null"
        :options="asOptions(field.choices)"
        :clearable="!field.required"
        :aria-label="field.label"
        @update:value="set(field.name, $event)"
      />
      <NCheckbox
        v-else-if="field.kind === 'yes'"
        :checked="values[field.name] === true"
        @update:checked="set(field.name, $event || (field.required ? false : undefined))"
      >
        {{ field.label }}
      </NCheckbox>
      <NInput
        v-else-if="field.kind === 'lines'"
        type="textarea"
        size="small"
        :autosize="{ minRows: 2, maxRows: 8 }"
        placeholder="one a line"
        :default-value="((values[field.name] as string[] | undefined) ?? []).join('\n')"
        :input-props="{ 'aria-label': field.label }"
        @update:value="set(field.name, $event === '' ? undefined : $event.split('\n'))"
      />
      <div v-else-if="field.kind === 'rows'" class="list-of-rows">
        <div
          v-for="(row, i) in rowsOf(field)"
          :key="keys.of(field.name, rowsOf(field).length)[i]!"
          class="one-row"
        >
          <StepFields
            :model-value="row"
            :fields="field.fields"
            @update:model-value="setRow(field, i, $event)"
          />
          <button type="button" class="link" @click="setRow(field, i, null)">
            take this one away
          </button>
        </div>
        <button
          type="button"
          class="link"
          @click="setRow(field, rowsOf(field).length, firstValues(field.fields))"
        >
          add one
        </button>
      </div>
      <NInput
        v-else-if="field.kind === 'numbers'"
        size="small"
        placeholder="numbers, with commas"
        :default-value="((values[field.name] as number[] | undefined) ?? []).join(', ')"
        :input-props="{ 'aria-label': field.label }"
        @update:value="set(field.name, asNumbers($event))"
      />
      <NInput
        v-else
        size="small"
        :placeholder="field.required ? 'needed' : 'not set'"
        :value="(values[field.name] as string | undefined) ?? ''"
        :input-props="{ 'aria-label': field.label }"
        @update:value="set(field.name, $event)"
      />
    </component>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 8px;
}

.one-row {
  padding: 4px 0 4px 10px;
  border-left: 2px solid var(--line);
}

.list-of-rows {
  display: grid;
  gap: 6px;
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}
</style>
