<script setup lang="ts">
import { computed, ref } from 'vue';
import { ROWS, RowsSchema, type Rows } from '../../../../core/formats/own/schema';
import { ROW_WORDS } from './format-words';
import { chosenRows, ROW_ORDERS, rowFilters, type RowFilter } from './row-choices';
import RowFilters from './RowFilters.vue';
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
/** Which of them there are and in what order: said where anything of it is, or asked for. */
const opened = ref(false);
const filters = computed(() => rowFilters(props.rows));
const shown = computed(() => opened.value || filters.value.some((f) => f.said !== ''));
const CONDUCTING = new Set<Rows['of']>(['tempos', 'meters', 'changes', 'markers', 'captions']);
const hasNotes = computed(() => !CONDUCTING.has(props.rows.of));
const order = computed(() => (props.rows.order ?? []).join(' '));
function say(key: RowFilter['key'] | 'order', said: string, taken?: (is: boolean) => void) {
  const next = chosenRows(props.rows, key, said);
  if (next) emit('set', next);
  taken?.(next !== null);
}
function ofSeats(ids: readonly string[]) {
  const rest = { ...props.rows };
  delete rest.seats;
  emit('set', ids.length === 0 ? rest : { ...rest, seats: [...ids] });
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
    <template v-if="shown">
      <RowFilters
        :filters="filters"
        :seats="hasNotes ? (rows.seats ?? []) : null"
        :name="name"
        @say="say"
        @seats="ofSeats"
      />
      <span v-if="rows.of === 'notes' || rows.of === 'events'" class="filter">
        in order of
        <select
          class="field"
          :value="order"
          :aria-label="`${name}: in order of`"
          @change="say('order', ($event.target as HTMLSelectElement).value)"
        >
          <option v-if="!ROW_ORDERS.some(([id]) => id === order)" :value="order">
            {{ order.replaceAll('-', ' ') }}
          </option>
          <option v-for="[id, words] in ROW_ORDERS" :key="id" :value="id">{{ words }}</option>
        </select>
      </span>
    </template>
    <button
      v-if="filters.length > 0 && !filters.some((f) => f.said !== '')"
      type="button"
      class="link"
      :aria-expanded="opened"
      :aria-label="`${name}: which of them`"
      @click="opened = !opened"
    >
      {{ opened ? 'all of them' : 'which' }}
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.filter {
  margin-left: 0.35em;
}
</style>
