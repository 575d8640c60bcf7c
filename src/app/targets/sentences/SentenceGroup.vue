<script setup lang="ts">
import { computed } from 'vue';
import {
  isSaid,
  pathsOf,
  say,
  unsay,
  withValue,
  type Data,
  type Sentence,
} from '../../../core/target/sentences';
import type { Shape } from '../../kit/shapes';
import SentenceLine from './SentenceLine.vue';

/** The sentences of one thing: those that are said, and faint what could be. */
const props = defineProps<{
  sentences: readonly Sentence[];
  data: Data;
  shape: Shape;
  under: string;
  /** What nothing was said of, where nothing is: "velocity". */
  of: string | null;
  problems: ReadonlyMap<string, string>;
}>();
const emit = defineEmits<{ change: [next: Data, path: string] }>();

const said = computed(() => props.sentences.filter((s) => isSaid(props.data, s)));
const unsaid = computed(() => props.sentences.filter((s) => !isSaid(props.data, s)));
const problemOf = (s: Sentence) =>
  pathsOf(s)
    .map((p) => props.problems.get(`${props.under}${p}`))
    .find((p) => p !== undefined);
</script>

<template>
  <div>
    <SentenceLine
      v-for="s in said"
      :key="s.text"
      :sentence="s"
      :data="data"
      :shape="shape"
      :under="under"
      :problem="problemOf(s)"
      @set="(path, value) => emit('change', withValue(data, path, value), `${under}${path}`)"
      @unsay="emit('change', unsay(data, s), `${under}${pathsOf(s)[0]}`)"
    />
    <p v-if="unsaid.length > 0" class="unsaid">
      <template v-if="of !== null && said.length === 0">Says nothing of {{ of }}. </template>
      <template v-else>It could also say: </template>
      <template v-for="(s, i) in unsaid" :key="s.text">
        <button
          type="button"
          @click="emit('change', say(data, s, sentences), `${under}${pathsOf(s)[0]}`)"
        >
          {{ s.offer }}</button>{{ i < unsaid.length - 1 ? ' · ' : '' }}
      </template>
    </p>
  </div>
</template>

<style scoped>
.unsaid {
  margin: 2px 0 0 var(--sentence-indent, 122px);
  color: var(--ink-2);
  font: italic 13.5px/1.65 var(--serif);
}

.unsaid button {
  padding: 0;
  border: 0;
  border-bottom: 1px dotted var(--ink-2);
  background: none;
  color: inherit;
  font: inherit;
  cursor: pointer;
}

.unsaid button:hover {
  border-bottom-style: solid;
  color: var(--quill);
}
</style>
