<script setup lang="ts">
import type { InlineNode } from '../../../../core/formats/own/schema';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import ValuePicker from './ValuePicker.vue';

/** What stands in one line: words as they are, values, and lists of either. */
defineProps<{ parts: readonly InlineNode[]; name: string; least?: number }>();
const emit = defineEmits<{ set: [parts: InlineNode[]] }>();
const VALUE: InlineNode = { value: { is: 'time', of: 'start', unit: 'ms' } };
const LIST: InlineNode = {
  each: { of: 'notes' },
  between: ' ',
  parts: [{ value: { is: 'key', as: 'number' } }],
};
</script>

<template>
  <span class="inner">
    <MovableList
      v-slot="{ item, index, put }"
      inline
      :items="parts"
      :what="name"
      :least="least ?? 0"
      @set="emit('set', $event)"
    >
      <template v-if="typeof item === 'string'">
        the words “<input
          class="field words"
          :value="item"
          :aria-label="`${name}, ${index + 1}: words`"
          @change="put(($event.target as HTMLInputElement).value)"
        />”
      </template>
      <ValuePicker
        v-else-if="'value' in item"
        :value="item.value"
        :name="`${name}, ${index + 1}`"
        @set="(value) => put({ value })"
      />
      <template v-else>
        in one row, for each
        <RowsPicker
          :rows="item.each"
          :name="`${name}, ${index + 1}: for each`"
          @set="(each) => put({ ...item, each })"
        />, parted by “<input
          class="field words"
          :value="item.between"
          :aria-label="`${name}, ${index + 1}: parted by`"
          @change="put({ ...item, between: ($event.target as HTMLInputElement).value })"
        />”:
        <FormatInline
          :parts="item.parts"
          :name="`${name}, ${index + 1}`"
          :least="1"
          @set="(inner) => put({ ...item, parts: inner })"
        />
      </template>
    </MovableList>
    <button type="button" class="link" @click="emit('set', [...parts, ' '])">Add words</button>
    <button type="button" class="link" @click="emit('set', [...parts, VALUE])">Add a value</button>
    <button type="button" class="link" @click="emit('set', [...parts, LIST])">
      Add a list in the line
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.words {
  white-space: pre;
}
</style>
