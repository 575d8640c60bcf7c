<script setup lang="ts">
import { computed, inject, ref, watch } from 'vue';
import {
  partsOf,
  pathsOf,
  plainText,
  SEVERITY_WORDS,
  valueAt,
  type Data,
  type Sentence,
} from '../../../core/target/sentences';
import { sayEvidence, sayNumber } from '../../../core/target/evidence';
import type { Shape } from '../../kit/shapes';
import SeverityMark from '../../margin/SeverityMark.vue';
import KeyPainter from './KeyPainter.vue';
import SentenceField from './SentenceField.vue';
import { shapeAtPath } from './fields';
import { PAGE } from './page';

/** One sentence: its mark, its words with the fields in place, and what is wrong under it. */
const props = defineProps<{
  sentence: Sentence;
  data: Data;
  shape: Shape;
  /** Before the paths of the sentence, where the data is a part of the target. */
  under?: string;
  problem?: string | undefined;
}>();
const emit = defineEmits<{
  set: [path: string, value: unknown];
  unsay: [];
}>();
const page = inject(PAGE);
const parts = computed(() => partsOf(props.sentence));
const wrong = ref<string | null>(null);
/** The field whose keys are painted, by its path. */
const painting = ref<string | null>(null);
const painted = computed(() => valueAt(props.data, painting.value ?? '') as number[] | undefined);
function paint(keys: number[]) {
  if (keys.length === 0) wrong.value = 'At least one key is needed.';
  else emit('set', painting.value!, keys);
}
watch(
  () => props.data,
  () => (wrong.value = null),
);
const block = computed(() => pathsOf(props.sentence)[0]!.split('.')[0]!);
const severity = computed(() => {
  if (!shapeAtPath(props.shape, `${block.value}.severity`)) return null;
  return String(valueAt(props.data, `${block.value}.severity`) ?? 'stop');
});
/** Read aloud: the words around the field. */
const labelOf = (i: number) => {
  const before = parts.value[i - 1];
  const after = parts.value[i + 1];
  const said = `${typeof before === 'string' ? before.trim() : ''} … ${typeof after === 'string' ? after.trim() : ''}`;
  return said.replace(/^ … | … $/g, '').trim() || 'Field';
};
const endsInBlock = computed(() => {
  const last = parts.value.at(-1);
  return (
    typeof last === 'object' && ['lines', 'named-keys', 'format-files'].includes(last.kind ?? '')
  );
});
const learntPaths = computed(() =>
  pathsOf(props.sentence).filter((p) => page?.learnt.value.has(`${props.under ?? ''}${p}`)),
);
const isLearnt = computed(() => learntPaths.value.length > 0);
/** What the numbers of it rest on, as long as nobody has set them. */
const rests = computed(() =>
  learntPaths.value.flatMap((path) => {
    const evidence = page?.evidence.value.get(`${props.under ?? ''}${path}`);
    return evidence ? [{ path, evidence, value: Number(valueAt(props.data, path)) }] : [];
  }),
);
/** Of a range one end may be left open; a field alone, and what goes as a whole, may not. */
const isNeeded = computed(
  () =>
    props.sentence.whole !== undefined ||
    props.sentence.offer === undefined ||
    parts.value.filter((p) => typeof p !== 'string').length < 2,
);
</script>

<template>
  <div class="line" :class="{ learnt: isLearnt }">
    <label
      v-if="severity"
      class="grave"
      title="How grave a breach is, for all that is said of this"
    >
      <SeverityMark :severity="severity as never" />
      <select
        :value="severity"
        aria-label="How grave a breach of it is"
        @change="
          emit(
            'set',
            `${block}.severity`,
            ($event.target as HTMLSelectElement).value === 'stop'
              ? undefined
              : ($event.target as HTMLSelectElement).value,
          )
        "
      >
        <option v-for="[v, words] in SEVERITY_WORDS" :key="v" :value="v">{{ words }}</option>
      </select>
    </label>
    <span v-else class="grave" />
    <p class="words">
      <template v-for="(p, i) in parts" :key="i">
        <template v-if="typeof p === 'string'">{{ p }}</template>
        <SentenceField
          v-else
          :part="p"
          :value="valueAt(data, p.path)"
          :shape="shapeAtPath(shape, p.path)"
          :label="labelOf(i)"
          :needed="isNeeded"
          :painting="painting === p.path"
          @set="(value) => emit('set', p.path, value)"
          @paint="painting = painting === p.path ? null : p.path"
          @wrong="(says) => (wrong = says)" /></template
      ><template v-if="!endsInBlock">.</template>
      <button
        v-if="isLearnt"
        class="from-file"
        type="button"
        title="Learnt from files. Press it to confirm it as it is"
        @click="page?.confirm(learntPaths.map((p) => `${under ?? ''}${p}`))"
      >
        learnt
      </button>
      <span v-for="r in rests" :key="r.path" class="rests">
        {{ sayNumber(r.value) }}: {{ sayEvidence(r.evidence) }}
        <button
          v-if="r.evidence.round !== null"
          class="link"
          type="button"
          :title="`Say ${sayNumber(r.evidence.round)}: all of the files are taken as well`"
          @click="emit('set', r.path, r.evidence.round)"
        >
          {{ sayNumber(r.evidence.round) }}?
        </button>
      </span>
      <span v-if="wrong ?? problem" class="wrong" role="alert">{{ wrong ?? problem }}</span>
    </p>
    <KeyPainter
      v-if="painting"
      class="painted"
      :chosen="painted ?? []"
      :label="plainText(sentence, data)"
      @change="paint"
    />
    <button
      v-if="sentence.offer !== undefined"
      type="button"
      class="back"
      :aria-label="`Take back: ${sentence.offer}`"
      title="Take this back"
      @click="emit('unsay')"
    >
      take back
    </button>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 112px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: baseline;
  padding: 3px 0;
}

@media (width <= 860px) {
  .line {
    grid-template-columns: 0 minmax(0, 1fr) auto;
  }
}

.painted {
  grid-row: 2;
  grid-column: 2;
}

.words {
  font: 16px/1.6 var(--serif);
}

.grave {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  color: var(--ink-2);
  font-size: 12px;
}

.grave select {
  border: 0;
  background: none;
  color: inherit;
  field-sizing: content;
}

.grave select option {
  background: var(--page);
  color: var(--ink);
}

.back {
  border: 0;
  background: none;
  color: var(--ink-2);
  font-size: 12px;
  cursor: pointer;
}

.line:hover .back,
.line:focus-within .back {
  text-decoration: underline;
}

.from-file {
  margin-left: 6px;
  padding: 0 5px;
  border: 1px solid var(--ochre);
  border-radius: 4px;
  color: var(--ochre-text);
  background: none;
  font: 12px var(--sans);
  cursor: pointer;
}

.rests {
  display: block;
  color: var(--ink-2);
  font: 12px/1.5 var(--sans);
}

.rests .link {
  padding: 0 4px;
}

.wrong {
  display: block;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
  font: 13px/1.4 var(--sans);
}
</style>
