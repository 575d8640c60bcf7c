<script setup lang="ts">
import { ROWS, RowsSchema, type Rows } from '../../../../core/formats/own/schema';
import { ROW_WORDS } from './format-words';
import { newRows } from './value-choices';

/** What a row is of, and of a grid or a rate how fine it is. */
const props = defineProps<{ rows: Rows; name: string }>();
const emit = defineEmits<{ set: [rows: Rows] }>();
type Fine = 'perQuarter' | 'perBar' | 'rate';
const WORDS: Readonly<Record<Fine, string>> = {
  perQuarter: 'to a quarter',
  perBar: 'to a bar',
  rate: 'a second',
};
const fineOf = (rows: Rows): Fine | null =>
  rows.of === 'frames'
    ? 'rate'
    : rows.of !== 'cells'
      ? null
      : rows.perBar === undefined
        ? 'perQuarter'
        : 'perBar';
function setFine(key: Fine, element: HTMLInputElement) {
  const result = RowsSchema.safeParse({ ...props.rows, [key]: Number(element.value) });
  if (result.success) emit('set', result.data);
  else element.value = String(props.rows[key] ?? '');
}
function setGrid(key: string) {
  const { perBar, perQuarter, ...rest } = props.rows;
  if (key === 'perBar') emit('set', { ...rest, perBar: Math.round((perQuarter ?? 4) * 4) });
  else emit('set', { ...rest, perQuarter: (perBar ?? 16) / 4 });
}
</script>

<template>
  <span>
    <select
      class="field"
      :value="rows.of"
      :aria-label="name"
      @change="emit('set', newRows(($event.target as HTMLSelectElement).value as Rows['of']))"
    >
      <option v-for="of in ROWS" :key="of" :value="of">{{ ROW_WORDS[of] }}</option>
    </select>
    <template v-if="fineOf(rows)">
      (<input
        class="field"
        inputmode="decimal"
        :value="rows[fineOf(rows)!] ?? ''"
        :aria-label="`${name}: how many ${WORDS[fineOf(rows)!]}`"
        @change="setFine(fineOf(rows)!, $event.target as HTMLInputElement)"
      />
      <select
        v-if="rows.of === 'cells'"
        class="field"
        :value="fineOf(rows)"
        :aria-label="`${name}: to what`"
        @change="setGrid(($event.target as HTMLSelectElement).value)"
      >
        <option value="perQuarter">to a quarter</option>
        <option value="perBar">to a bar</option></select
      ><template v-else> a second</template>)
    </template>
  </span>
</template>

<style scoped src="./field.css"></style>
