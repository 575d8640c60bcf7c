<script setup lang="ts">
import { BinarySchema, type BinaryNode, type Value } from '../../../../core/formats/own/schema';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import ValuePicker from './ValuePicker.vue';

/** Fields of a file of bytes in their order; some of them again for each row. */
defineProps<{ fields: readonly BinaryNode[]; name: string }>();
const emit = defineEmits<{ set: [fields: BinaryNode[]] }>();
const START: Value = { is: 'time', of: 'start', unit: 'ms' };
const TEXT: Value = { is: 'fact', key: 'title' };
const NEW: readonly (readonly [words: string, node: BinaryNode])[] = [
  ['Add a whole number', { int: 4, value: START }],
  ['Add fixed bytes', { bytes: '00' }],
  ['Add a text', { string: 'padded', size: 16, value: TEXT }],
  ['Add a decimal', { float: 4, value: START }],
  ['Add a number of variable length', { vlq: true, value: START }],
  ['Add fields for each row', { each: { of: 'notes' }, fields: [{ int: 4, value: START }] }],
];
const BITS: BinaryNode = {
  bits: [
    { width: 1, value: { is: 'constant', value: 0 } },
    { width: 7, value: { is: 'key', as: 'number' } },
  ],
};
/** A field said otherwise; what it cannot be is put back. */
function check(next: BinaryNode, put: (node: BinaryNode) => void, field: HTMLInputElement) {
  const result = BinarySchema.safeParse(next);
  if (result.success) put(result.data);
  else field.value = field.defaultValue;
}
const input = (event: Event) => event.target as HTMLInputElement;
const select = (event: Event) => (event.target as HTMLSelectElement).value;
type Text = Extract<BinaryNode, { string: unknown }>;
const textAs = (node: Text, string: string): BinaryNode => ({
  ...node,
  string: string as Text['string'],
});
</script>

<template>
  <span class="inner">
    <MovableList
      v-slot="{ item, index, put }"
      :items="fields"
      :what="name"
      :least="1"
      @set="emit('set', $event)"
    >
      <template v-if="'bytes' in item">
        the bytes
        <input
          class="field mono"
          :value="item.bytes"
          :aria-label="`${name} ${index + 1}: bytes`"
          @change="check({ bytes: input($event).value }, put, input($event))"
        />
      </template>
      <template v-else-if="'int' in item">
        in
        <input
          class="field"
          inputmode="numeric"
          :value="item.int"
          :aria-label="`${name} ${index + 1}: how many bytes`"
          @change="
            check({ ...item, int: Number(input($event).value) } as BinaryNode, put, input($event))
          "
        />
        bytes,
        <select
          class="field"
          :value="item.signed ? 'yes' : 'no'"
          :aria-label="`${name} ${index + 1}: signed`"
          @change="put({ ...item, signed: select($event) === 'yes' || undefined })"
        >
          <option value="no">from 0 up</option>
          <option value="yes">signed</option>
        </select>
      </template>
      <template v-else-if="'float' in item">
        as a decimal of
        <select
          class="field"
          :value="item.float"
          :aria-label="`${name} ${index + 1}: how many bytes`"
          @change="put({ ...item, float: Number(select($event)) as 4 })"
        >
          <option :value="4">4</option>
          <option :value="8">8</option>
        </select>
        bytes,
      </template>
      <template v-else-if="'vlq' in item">in as many bytes of 7 bits as it takes,</template>
      <template v-else-if="'string' in item">
        a text
        <select
          class="field"
          :value="item.string"
          :aria-label="`${name} ${index + 1}: how it ends`"
          @change="put(textAs(item, select($event)))"
        >
          <option value="padded">filled up to</option>
          <option value="counted">with its length before it, in</option>
          <option value="zero">ended by a zero</option>
        </select>
        <template v-if="item.string !== 'zero'">
          <input
            class="field"
            inputmode="numeric"
            :value="item.size ?? 1"
            :aria-label="`${name} ${index + 1}: size`"
            @change="check({ ...item, size: Number(input($event).value) }, put, input($event))"
          />
          bytes,
        </template>
      </template>
      <template v-else-if="'bits' in item">
        bits together:
        <span class="inner">
          <MovableList
            v-slot="{ item: bit, index: n, put: set }"
            :items="item.bits"
            :what="`${name} ${index + 1}, bits`"
            :least="1"
            @set="put({ ...item, bits: $event })"
          >
            <input
              class="field"
              inputmode="numeric"
              :value="bit.width"
              :aria-label="`${name} ${index + 1}, bits ${n + 1}: how many`"
              @change="set({ ...bit, width: Math.max(1, Number(input($event).value) || 1) })"
            />
            bits of
            <ValuePicker
              :value="bit.value"
              :name="`${name} ${index + 1}, bits ${n + 1}`"
              @set="(value) => set({ ...bit, value })"
            />
          </MovableList>
          <button
            type="button"
            class="link"
            @click="put({ ...item, bits: [...item.bits, { width: 1, value: START }] })"
          >
            Add bits
          </button>
        </span>
      </template>
      <template v-else-if="'align' in item">
        filled up to a multiple of
        <input
          class="field"
          inputmode="numeric"
          :value="item.align"
          :aria-label="`${name} ${index + 1}: multiple`"
          @change="check({ ...item, align: Number(input($event).value) }, put, input($event))"
        />
        bytes
      </template>
      <template v-else-if="'each' in item">
        for each
        <RowsPicker
          :rows="item.each"
          :name="`${name} ${index + 1}: for each`"
          @set="(each) => put({ ...item, each })"
        />
        <FormatBytes
          :fields="item.fields"
          :name="`${name} ${index + 1}.`"
          @set="(inner) => put({ ...item, fields: inner })"
        />
      </template>
      <template v-else>
        the block
        <input
          class="field"
          :value="item.block"
          :aria-label="`${name} ${index + 1}: name of the block`"
          @change="check({ ...item, block: input($event).value }, put, input($event))"
        />
        <FormatBytes
          :fields="item.fields"
          :name="`${name} ${index + 1}.`"
          @set="(inner) => put({ ...item, fields: inner })"
        />
      </template>
      <ValuePicker
        v-if="'value' in item"
        :value="item.value"
        :name="`${name} ${index + 1}`"
        @set="(value) => put({ ...item, value } as BinaryNode)"
      />
    </MovableList>
    <button
      v-for="[words, node] in NEW"
      :key="words"
      type="button"
      class="link"
      @click="emit('set', [...fields, node])"
    >
      {{ words }}
    </button>
    <button type="button" class="link" @click="emit('set', [...fields, BITS])">Add bits</button>
    <button type="button" class="link" @click="emit('set', [...fields, { align: 4 }])">
      Fill up to a multiple
    </button>
    <button
      type="button"
      class="link"
      @click="emit('set', [...fields, { block: 'body', fields: [{ int: 4, value: START }] }])"
    >
      Add a block with a name
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.mono {
  font-family: 'IBM Plex Mono', monospace;
}
</style>
