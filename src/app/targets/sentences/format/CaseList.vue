<script setup lang="ts">
import { ValueSchema, type Cased, type Value } from '../../../../core/formats/own/schema';
import MovableList from './MovableList.vue';
import WhenPicker from './WhenPicker.vue';

/** One of several values: what stands there when, and what else; each picked in the slot. */
const props = defineProps<{ value: Cased; name: string }>();
const emit = defineEmits<{ set: [value: Value] }>();
defineSlots<{
  default(place: { value: Value; label: string; set: (value: Value) => void }): unknown;
}>();
type Case = Cased['cases'][number];
const put = (said: Partial<Cased>): boolean => {
  const result = ValueSchema.safeParse({ ...props.value, ...said });
  if (result.success) emit('set', result.data);
  return result.success;
};
const cases = (index: number, next: Case) => ({
  cases: props.value.cases.map((c, i) => (i === index ? next : c)),
});
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
    <WhenPicker
      least
      :when="item.when"
      :name="`${name}, case ${index + 1}`"
      @set="(when) => when && put(cases(index, { ...item, when }))"
    />
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
