<script setup lang="ts">
import { computed } from 'vue';
import type { OwnFile, Value } from '../../../core/formats/own/schema';
import { sayValue } from './format-words';
import { choiceOf, VALUE_CHOICES } from './value-choices';

/** A table in words: its columns, what each holds, and how they are parted; changed in place. */
type Table = Extract<OwnFile['container'], { kind: 'table' }>;
const props = defineProps<{ file: OwnFile; table: Table }>();
const emit = defineEmits<{ set: [file: OwnFile] }>();

const put = (more: Partial<Table>) =>
  emit('set', { ...props.file, container: { ...props.table, ...more } });
type Columns = Table['columns'];
function setColumn(i: number, more: Partial<Columns[number]>) {
  put({ columns: props.table.columns.map((c, n) => (n === i ? { ...c, ...more } : c)) });
}
const choose = (i: number, id: string) => {
  const value = VALUE_CHOICES.find((c) => c.id === id)?.value;
  if (value) setColumn(i, { value });
};
function move(i: number, by: number) {
  const next = [...props.table.columns];
  const [one] = next.splice(i, 1);
  next.splice(i + by, 0, one!);
  put({ columns: next });
}
const drop = (i: number) => put({ columns: props.table.columns.filter((_, n) => n !== i) });
const add = () => {
  const { name, value } = { name: 'column', value: { is: 'velocity' } as Value };
  put({ columns: [...props.table.columns, { name, value }] });
};
const MARKS = [
  [',', 'a comma'],
  [';', 'a semicolon'],
  ['\t', 'a tab'],
  ['|', 'an upright stroke'],
] as const;
const mark = computed(() => props.table.delimiter ?? ',');
function setMark(to: string) {
  // A decimal comma in columns that commas part would be read as two.
  const decimal = to === ',' ? undefined : props.table.decimal;
  put({ delimiter: to === ',' ? undefined : to, decimal });
}
</script>

<template>
  <span class="table">
    <span class="line">
      The file is called
      <input
        class="field"
        :value="file.path"
        aria-label="Name of the file"
        @change="emit('set', { ...file, path: ($event.target as HTMLInputElement).value })"
      />, a line for each
      <select
        class="field"
        :value="table.rows.of"
        aria-label="A line for each"
        @change="put({ rows: { of: ($event.target as HTMLSelectElement).value as never } })"
      >
        <option value="notes">note</option>
        <option value="strikes">strike</option>
        <option value="events">beginning and end of a note</option></select
      >; columns are parted by
      <select
        class="field"
        :value="mark"
        aria-label="Columns are parted by"
        @change="setMark(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="[m, words] in MARKS" :key="m" :value="m">{{ words }}</option></select
      >,
      <select
        class="field"
        :value="table.heading === false ? 'no' : 'yes'"
        aria-label="Heading"
        @change="
          put({
            heading: ($event.target as HTMLSelectElement).value === 'no' ? false : undefined,
          })
        "
      >
        <option value="yes">with</option>
        <option value="no">without</option>
      </select>
      a heading.
    </span>
    <span v-for="(c, i) in table.columns" :key="i" class="line">
      <input
        class="field"
        :value="c.name"
        :aria-label="`Name of column ${i + 1}`"
        @change="setColumn(i, { name: ($event.target as HTMLInputElement).value })"
      />
      holds
      <select
        class="field"
        :value="choiceOf(c.value) ?? 'own'"
        :aria-label="`What column ${i + 1} holds`"
        @change="choose(i, ($event.target as HTMLSelectElement).value)"
      >
        <option v-if="choiceOf(c.value) === null" value="own">{{ sayValue(c.value) }}</option>
        <option v-for="o in VALUE_CHOICES" :key="o.id" :value="o.id">{{ o.words }}</option>
      </select>
      <span class="ways">
        <button v-if="i > 0" type="button" class="link" @click="move(i, -1)">before</button>
        <button v-if="i < table.columns.length - 1" type="button" class="link" @click="move(i, 1)">
          behind
        </button>
        <button
          v-if="table.columns.length > 1"
          type="button"
          class="link"
          :aria-label="`Take column ${i + 1} away`"
          @click="drop(i)"
        >
          away
        </button>
      </span>
    </span>
    <button type="button" class="link" @click="add">Add a column</button>
  </span>
</template>

<style scoped>
.table,
.line {
  display: block;
}

.field {
  min-width: 2ch;
  max-width: 100%;
  padding: 0 2px;
  border: 0;
  border-bottom: 1.5px solid var(--quill);
  background: transparent;
  color: var(--quill);
  font: inherit;
  font-style: italic;
  field-sizing: content;
}

select.field option {
  background: var(--page);
  color: var(--ink);
  font-style: normal;
}

.ways {
  margin-left: 8px;
}

.link {
  font: 12px var(--sans);
}
</style>
