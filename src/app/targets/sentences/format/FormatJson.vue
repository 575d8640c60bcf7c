<script setup lang="ts">
import { computed } from 'vue';
import type { JsonNode, Value } from '../../../../core/formats/own/schema';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import ValuePicker from './ValuePicker.vue';
import WhenPicker from './WhenPicker.vue';

/** One place of a JSON file, and what stands in it. */
const props = defineProps<{ node: JsonNode; name: string; inRows?: boolean }>();
const emit = defineEmits<{ set: [node: JsonNode] }>();
const VALUE: JsonNode = { value: { is: 'time', of: 'start', unit: 'ms' } };
const KINDS = {
  value: 'a value',
  object: 'an object of',
  list: 'a list of',
  each: 'a list for each',
  keyed: 'an object with a key for each',
} as const;
type Kind = keyof typeof KINDS;
const kind = computed((): Kind => {
  const { node } = props;
  if ('value' in node) return 'value';
  if ('object' in node) return 'object';
  if ('list' in node) return 'list';
  return 'key' in node ? 'keyed' : 'each';
});
/** Becomes of another kind; what stood in it goes on standing in the new one where it can. */
function turn(to: Kind) {
  const { node } = props;
  const inner =
    'node' in node
      ? node.node
      : 'object' in node
        ? node.object[0]?.node
        : 'list' in node
          ? node.list[0]
          : node;
  const one = inner ?? VALUE;
  const each = 'each' in node ? node.each : { of: 'notes' as const };
  if (to === 'value') emit('set', 'value' in one ? one : VALUE);
  else if (to === 'object') emit('set', { object: [{ key: 'key', node: one }] });
  else if (to === 'list') emit('set', { list: [one] });
  else if (to === 'each') emit('set', { each, node: one });
  else emit('set', { each, key: { is: 'row-number', first: 1 }, node: one });
}
/** How it is laid in lines; an object in one line with a space inside its brackets, or none. */
const line = computed(() => ('line' in props.node ? (props.node.line ?? '') : ''));
function lay(to: string) {
  const next: { line?: string } = { ...props.node, line: to };
  if (to === '') delete next.line;
  emit('set', next as JsonNode);
}
const asText = (as: string): JsonNode => {
  const { value } = props.node as { value: Value };
  return as === '' ? { value } : { value, as: as as 'text' };
};
</script>

<template>
  <span>
    <select
      class="field"
      :value="kind"
      :aria-label="`${name}: what stands there`"
      @change="turn(($event.target as HTMLSelectElement).value as Kind)"
    >
      <option v-for="(words, id) in KINDS" :key="id" :value="id">{{ words }}</option>
    </select>
    <select
      v-if="!('value' in node)"
      class="field"
      :value="line"
      :aria-label="`${name}: laid in lines`"
      @change="lay(($event.target as HTMLSelectElement).value)"
    >
      <option value="">spread over lines</option>
      <option value="tight">in one line</option>
      <option value="spaced">in one line, spaces inside braces</option>
    </select>
    <template v-if="'value' in node">
      <ValuePicker
        :value="node.value"
        :name="name"
        @set="(value) => emit('set', { ...node, value } as JsonNode)"
      />
      <select
        class="field"
        :value="node.as ?? ''"
        :aria-label="`${name}: as text or number`"
        @change="emit('set', asText(($event.target as HTMLSelectElement).value))"
      >
        <option value="">as it is</option>
        <option value="text">as text</option>
        <option value="number">as a number</option>
      </select>
    </template>
    <template v-else-if="'object' in node">
      <span class="inner">
        <MovableList
          v-slot="{ item, put }"
          :items="node.object"
          :what="`${name}, key`"
          :least="1"
          @set="emit('set', { ...node, object: $event })"
        >
          “<input
            class="field"
            :value="item.key"
            :aria-label="`${name}: key`"
            @change="put({ ...item, key: ($event.target as HTMLInputElement).value })"
          />”:
          <FormatJson
            :node="item.node"
            :name="`${name}, ${item.key}`"
            :in-rows="inRows"
            @set="(inner) => put({ ...item, node: inner })"
          />
          <WhenPicker
            v-if="inRows"
            :when="item.when"
            :name="`${name}, ${item.key}`"
            @set="(when) => put({ key: item.key, node: item.node, ...(when ? { when } : {}) })"
          />
        </MovableList>
        <button
          type="button"
          class="link"
          @click="emit('set', { ...node, object: [...node.object, { key: 'key', node: VALUE }] })"
        >
          Add a key
        </button>
      </span>
    </template>
    <template v-else-if="'list' in node">
      <span class="inner">
        <MovableList
          v-slot="{ item, index, put }"
          :items="node.list"
          :what="`${name}, entry`"
          :least="1"
          @set="emit('set', { ...node, list: $event })"
        >
          <FormatJson
            :node="item"
            :in-rows="inRows"
            :name="`${name}, entry ${index + 1}`"
            @set="put"
          />
        </MovableList>
        <button
          type="button"
          class="link"
          @click="emit('set', { ...node, list: [...node.list, VALUE] })"
        >
          Add an entry
        </button>
      </span>
    </template>
    <template v-else>
      <RowsPicker
        :rows="node.each"
        :name="`${name}: for each`"
        @set="(each) => emit('set', { ...node, each } as JsonNode)"
      />
      <template v-if="'key' in node">
        , the key being
        <ValuePicker
          :value="node.key"
          :name="`${name}: key`"
          @set="(key) => emit('set', { ...node, key } as JsonNode)"
        />
      </template>
      <span class="inner">
        <FormatJson
          :node="node.node"
          in-rows
          :name="`${name}, each`"
          @set="(inner) => emit('set', { ...node, node: inner } as JsonNode)"
        />
      </span>
    </template>
  </span>
</template>

<style scoped src="./field.css"></style>
