<script setup lang="ts">
import { computed } from 'vue';
import type { OwnFile } from '../../../../core/formats/own/schema';
import FormatInline from './FormatInline.vue';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import ValuePicker from './ValuePicker.vue';

/** A table in words: its columns, what each holds, and how they are parted; changed in place. */
type Table = Extract<OwnFile['container'], { kind: 'table' }>;
const props = defineProps<{ table: Table }>();
const emit = defineEmits<{ set: [table: Table] }>();

const put = (more: Partial<Table>) => emit('set', { ...props.table, ...more });
type Columns = Table['columns'];
const NEW: Columns[number] = { name: 'column', value: { is: 'velocity' } };
const MARKS = [
  [',', 'a comma'],
  [';', 'a semicolon'],
  ['\t', 'a tab'],
  ['|', 'an upright stroke'],
  [' ', 'a space'],
] as const;
const mark = computed(() => props.table.delimiter ?? ',');
function setMark(to: string) {
  // A decimal comma in columns that commas part would be read as two.
  const decimal = to === ',' ? undefined : props.table.decimal;
  put({ delimiter: to === ',' ? undefined : to, decimal });
}
const picked = (event: Event) => (event.target as HTMLSelectElement).value;
const LINE_BEFORE = ['words'];
</script>

<template>
  <span class="inner">
    <span class="line">
      a line for each
      <RowsPicker :rows="table.rows" name="A line for each" @set="(rows) => put({ rows })" />;
      columns are parted by
      <select
        class="field"
        :value="mark"
        aria-label="Columns are parted by"
        @change="setMark(picked($event))"
      >
        <option v-for="[m, words] in MARKS" :key="m" :value="m">{{ words }}</option></select
      >,
      <select
        class="field"
        :value="table.heading === false ? 'no' : 'yes'"
        aria-label="Heading"
        @change="put({ heading: picked($event) === 'no' ? false : undefined })"
      >
        <option value="yes">with</option>
        <option value="no">without</option>
      </select>
      a heading, decimals with
      <select
        class="field"
        :value="table.decimal ?? '.'"
        aria-label="Decimals with"
        @change="put({ decimal: picked($event) === '.' ? undefined : ',' })"
      >
        <option value=".">a point</option>
        <option v-if="mark !== ','" value=",">a comma</option></select
      >; texts
      <select
        class="field"
        :value="table.quotes ?? 'needed'"
        aria-label="Quotes"
        @change="put({ quotes: picked($event) as 'needed' })"
      >
        <option value="needed">in quotes where they need them</option>
        <option value="always">and numbers always in quotes</option>
        <option value="never">never in quotes</option></select
      >.
    </span>
    <MovableList
      v-slot="{ item, index, put: set }"
      :items="table.before ?? []"
      what="Line before the table"
      @set="put({ before: $event.length > 0 ? $event : undefined })"
    >
      before it a line of
      <FormatInline :parts="item" :name="`Line before the table ${index + 1}`" @set="set" />
    </MovableList>
    <MovableList
      v-slot="{ item, index, put: set }"
      :items="table.columns"
      what="Column"
      :least="1"
      @set="put({ columns: $event })"
    >
      <input
        class="field"
        :value="item.name"
        :aria-label="`Name of column ${index + 1}`"
        @change="set({ ...item, name: ($event.target as HTMLInputElement).value })"
      />
      holds
      <ValuePicker
        :value="item.value"
        :name="`What column ${index + 1} holds`"
        @set="(value) => set({ ...item, value })"
      />
    </MovableList>
    <button type="button" class="link" @click="put({ columns: [...table.columns, NEW] })">
      Add a column
    </button>
    <button
      type="button"
      class="link"
      @click="put({ before: [...(table.before ?? []), LINE_BEFORE] })"
    >
      Add a line before it
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
