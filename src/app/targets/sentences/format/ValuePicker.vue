<script setup lang="ts">
import { computed, inject, ref } from 'vue';
import { factWords, FACT_WORDS } from '../../../../core/target/facts';
import { ValueSchema, type Rows, type Value } from '../../../../core/formats/own/schema';
import { PAGE } from '../page';
import { sayValue } from './format-words';
import CaseList from './CaseList.vue';
import MovableList from './MovableList.vue';
import RowsPicker from './RowsPicker.vue';
import { choiceOf, detailsOf, VALUE_CHOICES, withDetail, type Detail } from './value-choices';

/** What stands in one place of a file: chosen by its words, its details in fields beside them. */
const props = defineProps<{ value: Value; name: string }>();
const emit = defineEmits<{ set: [value: Value] }>();
const chosen = computed(() => choiceOf(props.value));
/** Facts that this target asks for by names of its own can stand in its files as well. */
const page = inject(PAGE, null);
const ownFacts = computed(() => {
  const { required = [] } = (page?.target.value['metadata'] ?? {}) as {
    required?: readonly { key: string }[];
  };
  return required.map((r) => r.key).filter((key) => !(key in FACT_WORDS));
});
const all = computed(() => (chosen.value === null ? [] : detailsOf(props.value)));
/** What holds by itself is only said when it is asked for. */
const opened = ref(false);
const isSaid = ({ key, unsaid }: Detail) =>
  unsaid === undefined || (props.value as unknown as Record<string, unknown>)[key] !== undefined;
const details = computed(() => all.value.filter((d) => opened.value || isSaid(d)));
const said = ({ key, unsaid, kind }: Detail) => {
  const own = (props.value as unknown as Record<string, unknown>)[key] ?? unsaid ?? '';
  return kind === 'keys' && Array.isArray(own) ? own.join(' ') : String(own);
};

const choose = (id: string) => {
  const next = VALUE_CHOICES.find((c) => c.id === id)?.value;
  if (next) emit('set', next);
  else if (id.startsWith('own-')) emit('set', { is: 'fact', key: id.slice(4) });
};
function say(detail: Detail, element: HTMLInputElement | HTMLSelectElement) {
  const result = ValueSchema.safeParse(withDetail(props.value, detail, element.value));
  if (result.success) emit('set', result.data);
  // What it cannot be is put back: the page says nothing that the file could not hold.
  else element.value = said(detail);
}
const countOf = (rows: Rows) => emit('set', { ...props.value, of: rows } as Value);
/** What stands together in one place, once or for each row of a list. */
const together = computed(() =>
  props.value.is === 'list' || (props.value.is === 'joined' && chosen.value === 'joined')
    ? props.value
    : null,
);
const more = (said: object) => emit('set', { ...props.value, ...said } as Value);
const FIRST_PART: Value = { is: 'key', as: 'number' };
</script>

<template>
  <span class="value">
    <select
      class="field"
      :value="chosen ?? 'own'"
      :aria-label="name"
      @change="choose(($event.target as HTMLSelectElement).value)"
    >
      <option v-if="chosen === null" value="own">{{ sayValue(value) }}</option>
      <option v-for="o in VALUE_CHOICES" :key="o.id" :value="o.id">{{ o.words }}</option>
      <option v-for="key in ownFacts" :key="key" :value="`own-${key}`">
        the {{ factWords(key) }}
      </option>
    </select>
    <span v-for="d in details" :key="d.key" class="detail">
      {{ d.before }}
      <RowsPicker
        v-if="d.kind === 'rows' && value.is === 'count'"
        :rows="value.of"
        :name="`${name}: of what`"
        @set="countOf"
      />
      <select
        v-else-if="d.kind === 'choice'"
        class="field"
        :value="said(d)"
        :aria-label="`${name}: ${d.before}`"
        @change="say(d, $event.target as HTMLSelectElement)"
      >
        <option v-for="[id, words] in d.options" :key="id" :value="id">{{ words }}</option>
      </select>
      <input
        v-else
        class="field"
        :value="said(d)"
        :inputmode="d.kind === 'number' ? 'decimal' : 'text'"
        :aria-label="`${name}: ${d.before || d.key} ${d.after ?? ''}`.trim()"
        @change="say(d, $event.target as HTMLInputElement)"
      />
      {{ d.after }}
    </span>
    <template v-if="together">
      <template v-if="together.is === 'list'">
        for each
        <RowsPicker
          :rows="together.each"
          :name="`${name}: for each`"
          @set="(each) => more({ each })"
        />, parted by “<input
          class="field words"
          :value="together.between"
          :aria-label="`${name}: parted by`"
          @change="more({ between: ($event.target as HTMLInputElement).value })"
        />”:
      </template>
      <MovableList
        v-slot="{ item, index, put }"
        inline
        :items="together.parts"
        :what="name"
        :least="1"
        @set="(parts) => more({ parts })"
      >
        <template v-if="typeof item === 'string'">
          the words “<input
            class="field words"
            :value="item"
            :aria-label="`${name}, ${index + 1}: words`"
            @change="put(($event.target as HTMLInputElement).value)"
          />”
        </template>
        <ValuePicker v-else :value="item" :name="`${name}, ${index + 1}`" @set="put" />
      </MovableList>
      <button type="button" class="link" @click="more({ parts: [...together.parts, ' '] })">
        Add words
      </button>
      <button type="button" class="link" @click="more({ parts: [...together.parts, FIRST_PART] })">
        Add a value
      </button>
    </template>
    <CaseList
      v-if="value.is === 'case'"
      v-slot="place"
      :value="value"
      :name="name"
      @set="(v) => emit('set', v)"
    >
      <ValuePicker :value="place.value" :name="place.label" @set="place.set" />
    </CaseList>
    <button
      v-if="all.some((d) => !isSaid(d))"
      type="button"
      class="link more"
      :aria-expanded="opened"
      :aria-label="`${name}: what more can be said`"
      @click="opened = !opened"
    >
      {{ opened ? 'less' : 'more' }}
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.detail {
  margin-left: 0.35em;
}

.words {
  white-space: pre;
}

.more {
  margin-left: 6px;
  color: var(--ink-2);
}
</style>
