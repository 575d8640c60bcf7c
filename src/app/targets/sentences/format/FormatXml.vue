<script setup lang="ts">
import type { Rows, Value, XmlNode } from '../../../../core/formats/own/schema';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import ValuePicker from './ValuePicker.vue';
import WhenPicker from './WhenPicker.vue';

/** An element of an XML file: for what it is repeated, its attributes, its text, what is inside. */
const props = defineProps<{ node: XmlNode; name: string; inRows?: boolean }>();
const emit = defineEmits<{ set: [node: XmlNode] }>();
const START: Value = { is: 'time', of: 'start', unit: 'ms' };
function put(more: Partial<XmlNode>, element?: HTMLInputElement) {
  const next = { ...props.node, ...more };
  for (const key of ['each', 'attributes', 'text', 'children'] as const)
    if (next[key] === undefined) delete next[key];
  // A name that XML does not know is put back.
  if (element && !/^[A-Za-z_][\w.-]{0,60}$/.test(next.name)) element.value = props.node.name;
  else emit('set', next);
}
const repeat = (of: Rows | undefined) => put({ each: of });
</script>

<template>
  <span>
    an element
    <input
      class="field"
      :value="node.name"
      :aria-label="`${name}: name`"
      @change="
        put({ name: ($event.target as HTMLInputElement).value }, $event.target as HTMLInputElement)
      "
    />
    <template v-if="node.each">
      for each <RowsPicker :rows="node.each" :name="`${name}: for each`" @set="repeat" />
      <button type="button" class="link" @click="repeat(undefined)">once instead</button>
    </template>
    <button v-else type="button" class="link" @click="repeat({ of: 'notes' })">for each row</button>
    <span class="inner">
      <MovableList
        v-slot="{ item, put: set }"
        :items="node.attributes ?? []"
        :what="`${name}, attribute`"
        @set="put({ attributes: $event })"
      >
        <input
          class="field"
          :value="item.name"
          :aria-label="`${name}: name of an attribute`"
          @change="set({ ...item, name: ($event.target as HTMLInputElement).value })"
        />
        is
        <ValuePicker
          :value="item.value"
          :name="`${name}, ${item.name}`"
          @set="(value) => set({ ...item, value })"
        />
        <WhenPicker
          v-if="inRows || node.each"
          :when="item.when"
          :name="`${name}, ${item.name}`"
          @set="(when) => set({ name: item.name, value: item.value, ...(when ? { when } : {}) })"
        />
      </MovableList>
      <span v-if="node.text" class="line">
        its text is
        <ValuePicker :value="node.text" :name="`${name}: text`" @set="(text) => put({ text })" />
        <button type="button" class="link" @click="put({ text: undefined })">no text</button>
      </span>
      <MovableList
        v-slot="{ item, index, put: set }"
        :items="node.children ?? []"
        :what="`${name}, inside`"
        @set="put({ children: $event })"
      >
        <FormatXml
          :node="item"
          :in-rows="inRows || node.each !== undefined"
          :name="`${name}, ${item.name} ${index + 1}`"
          @set="set"
        />
      </MovableList>
      <button
        type="button"
        class="link"
        @click="put({ attributes: [...(node.attributes ?? []), { name: 'at', value: START }] })"
      >
        Add an attribute
      </button>
      <button v-if="!node.text" type="button" class="link" @click="put({ text: START })">
        Give it a text
      </button>
      <button
        type="button"
        class="link"
        @click="put({ children: [...(node.children ?? []), { name: 'note' }] })"
      >
        Add an element inside
      </button>
    </span>
  </span>
</template>

<style scoped src="./field.css"></style>
