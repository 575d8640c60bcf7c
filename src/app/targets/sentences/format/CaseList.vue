<script setup lang="ts">
import { ref } from 'vue';
import {
  ValueSchema,
  type Cased,
  type Value,
  type When,
} from '../../../../core/formats/own/schema';
import MovableList from './MovableList.vue';
import { caseFilters, withSaid, type RowFilter } from './row-choices';
import RowFilters from './RowFilters.vue';

/** One of several values: what stands there when, and what else; each picked in the slot. */
const props = defineProps<{ value: Cased; name: string }>();
const emit = defineEmits<{ set: [value: Value] }>();
defineSlots<{
  default(place: { value: Value; label: string; set: (value: Value) => void }): unknown;
}>();
/** Of one case all that can be said; of the others what is said. */
const opened = ref<number | null>(null);
const shown = (when: When, index: number) =>
  caseFilters(when).filter((f) => opened.value === index || f.said !== '');
type Case = Cased['cases'][number];
const put = (said: Partial<Cased>): boolean => {
  const result = ValueSchema.safeParse({ ...props.value, ...said });
  if (result.success) emit('set', result.data);
  return result.success;
};
const cases = (index: number, next: Case) => ({
  cases: props.value.cases.map((c, i) => (i === index ? next : c)),
});
function say(
  index: number,
  { when, value }: Case,
  key: RowFilter['key'],
  said: string,
  taken: (is: boolean) => void,
) {
  taken(put(cases(index, { value, when: withSaid(when, key, said) })));
}
function ofSeats(index: number, { when, value }: Case, ids: readonly string[]) {
  const rest: When = { ...when };
  delete rest.seats;
  put(cases(index, { value, when: ids.length === 0 ? rest : { ...rest, seats: [...ids] } }));
}
const add = () => put({ cases: [...props.value.cases, { ...props.value.cases.at(-1)! }] });
</script>

<template>
  <MovableList
    v-slot="{ item, index }"
    :items="value.cases"
    :what="name"
    :least="1"
    @set="(all) => put({ cases: all })"
  >
    <slot
      :value="item.value"
      :label="`${name}, case ${index + 1}`"
      :set="(own: Value) => put(cases(index, { ...item, value: own }))"
    ></slot>
    for notes
    <RowFilters
      :filters="shown(item.when, index)"
      :seats="item.when.seats ?? (opened === index ? [] : null)"
      :name="`${name}, case ${index + 1}`"
      @say="(key, said, taken) => say(index, item, key, said, taken)"
      @seats="(ids) => ofSeats(index, item, ids)"
    />
    <button
      type="button"
      class="link"
      :aria-expanded="opened === index"
      :aria-label="`${name}, case ${index + 1}: for which notes`"
      @click="opened = opened === index ? null : index"
    >
      {{ opened === index ? 'less' : 'which' }}
    </button>
  </MovableList>
  <button type="button" class="link" @click="add">Add a case</button>
  else
  <slot
    :value="value.otherwise"
    :label="`${name}, else`"
    :set="(otherwise: Value) => put({ otherwise })"
  ></slot>
</template>

<style scoped src="./field.css"></style>
