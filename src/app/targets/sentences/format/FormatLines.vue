<script setup lang="ts">
import type { LineNode } from '../../../../core/formats/own/schema';
import FormatInline from './FormatInline.vue';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import WhenPicker from './WhenPicker.vue';

/** Lines of a text in their order; some of them again for each row, or only for some rows. */
defineProps<{ lines: readonly LineNode[]; name: string; inRows?: boolean }>();
const emit = defineEmits<{ set: [lines: LineNode[]] }>();
const LINE: LineNode = { parts: ['words'] };
const BLOCK: LineNode = {
  each: { of: 'notes' },
  lines: [{ parts: [{ value: { is: 'time', of: 'start', unit: 'ms' } }] }],
};
</script>

<template>
  <span class="inner">
    <MovableList
      v-slot="{ item, index, put }"
      :items="lines"
      :what="name"
      :least="1"
      @set="emit('set', $event)"
    >
      <template v-if="item.parts">
        a line of
        <FormatInline
          :parts="item.parts"
          :name="`${name} ${index + 1}`"
          @set="(parts) => put({ ...item, parts })"
        />
        <WhenPicker
          v-if="inRows"
          :when="item.when"
          :name="`${name} ${index + 1}`"
          @set="(when) => put({ ...item, when })"
        />
        <label v-if="inRows" class="skip"
          ><input
            type="checkbox"
            :checked="item.skip === 'zero'"
            :aria-label="`${name} ${index + 1}: left out where its number is 0`"
            @change="put({ ...item, skip: item.skip ? undefined : 'zero' })"
          />
          left out where it is 0</label
        >
      </template>
      <template v-else>
        for each
        <RowsPicker
          :rows="item.each!"
          :name="`${name} ${index + 1}: for each`"
          @set="(each) => put({ ...item, each })"
        />
        <FormatLines
          :lines="item.lines ?? []"
          in-rows
          :name="`${name} ${index + 1}.`"
          @set="(inner) => put({ ...item, lines: inner })"
        />
      </template>
    </MovableList>
    <button type="button" class="link" @click="emit('set', [...lines, LINE])">Add a line</button>
    <button type="button" class="link" @click="emit('set', [...lines, BLOCK])">
      Add lines for each row
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.skip {
  margin-left: 0.35em;
  white-space: nowrap;
}
</style>
