<script setup lang="ts">
import { computed, inject, ref, watch } from 'vue';
import type { SentencePart } from '../../../core/target/sentences';
import type { Shape } from '../../kit/shapes';
import { fieldKind, keyShown, readField, shownOf } from './fields';
import { FACT_WORDS } from '../../../core/target/facts';
import FormatFiles from './format/FormatFiles.vue';
import { PAGE } from './page';

/** One field in place: underlined as an insertion, typed, stepped with the arrows or dragged. */
const props = defineProps<{
  part: Exclude<SentencePart, string>;
  value: unknown;
  shape: Shape | null;
  label: string;
  /** The field has to say something. */
  needed: boolean;
  /** Its keys are painted below the sentence. */
  painting?: boolean;
}>();
const emit = defineEmits<{ set: [value: unknown]; wrong: [says: string | null]; paint: [] }>();
const page = inject(PAGE);

const kind = computed(() => fieldKind(props.part, props.shape));
const shown = computed(() => shownOf(kind.value, props.value));
const typed = ref(shown.value);
watch(shown, (now) => (typed.value = now));

function commit() {
  if (typed.value === shown.value) return emit('wrong', null);
  const read = readField(kind.value, typed.value, props.shape);
  if (read.wrong !== undefined) return emit('wrong', read.wrong);
  if (read.value === undefined && props.needed) return emit('wrong', 'Something is needed here.');
  emit('wrong', null);
  emit('set', read.value);
}
/** Back to what it was; what was wrong is forgotten with it. */
function back() {
  typed.value = shown.value;
  emit('wrong', null);
}

const isNumber = computed(() => ['number', 'key', 'program'].includes(kind.value));
const step = computed(() => {
  const now = Math.abs(Number(props.value ?? 0));
  if (props.shape?.type === 'integer' || kind.value !== 'number')
    return /bytes/i.test(props.part.path) ? 1024 : 1;
  return now >= 200 ? 10 : now >= 20 ? 5 : now >= 2 ? 1 : 0.1;
});
function by(steps: number) {
  const now = kind.value === 'program' ? Number(props.value) + 1 : Number(props.value ?? 0);
  const next = Math.round((now + steps * step.value) * 1000) / 1000;
  const read = readField(kind.value, String(next), props.shape);
  if (read.wrong === undefined) emit('set', read.value);
}
function arrows(event: KeyboardEvent) {
  if (event.key === 'Enter' && kind.value !== 'lines' && kind.value !== 'named-keys') commit();
  if (event.key === 'Escape') back();
  if (!isNumber.value || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
  event.preventDefault();
  by((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
}

/** A number follows a drag to either side; a click stays a click. */
let from: { x: number; done: number } | null = null;
function press(event: PointerEvent) {
  const own = event.currentTarget as HTMLElement;
  if (isNumber.value && document.activeElement !== own) from = { x: event.clientX, done: 0 };
}
function drag(event: PointerEvent) {
  if (!from || event.buttons === 0) return;
  const steps = Math.trunc((event.clientX - from.x) / 6);
  if (steps === from.done) return;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  by(steps - from.done);
  from.done = steps;
}
function release(event: PointerEvent) {
  if (from && from.done !== 0) (event.currentTarget as HTMLElement).blur();
  from = null;
}

const chosen = computed(() => new Set((props.value as unknown[] | undefined)?.map(String) ?? []));
const typedChoice = (text: string): unknown =>
  props.part.choices.length > 0 && /^\d+$/.test(text) ? Number(text) : text;
function toggle(choice: string) {
  const all = props.part.choices.map(([v]) => v);
  const next = new Set(chosen.value);
  if (next.has(choice)) next.delete(choice);
  else next.add(choice);
  if (next.size === 0) return emit('wrong', 'At least one has to be chosen.');
  emit('wrong', null);
  emit('set', all.filter((v) => next.has(v)).map(typedChoice));
}
const seats = computed(() => page?.seats.value ?? []);
function toggleSeat(id: string) {
  const now = (props.value as string[] | undefined) ?? [];
  const next = now.includes(id) ? now.filter((s) => s !== id) : [...now, id];
  emit('set', next.length === 0 ? undefined : next);
}
const controllers = computed(() => (Array.isArray(props.value) ? 'some' : String(props.value)));
</script>

<template>
  <select
    v-if="kind === 'choice'"
    class="field"
    :value="String(value ?? '')"
    :aria-label="label"
    @change="emit('set', typedChoice(($event.target as HTMLSelectElement).value))"
  >
    <option v-if="value === undefined" value="" disabled>…</option>
    <option v-for="[v, words] in part.choices" :key="v" :value="v">{{ words }}</option>
  </select>
  <span v-else-if="kind === 'choices'" class="some" role="group" :aria-label="label">
    <button
      v-for="[v, words] in part.choices"
      :key="v"
      type="button"
      class="word"
      :aria-pressed="chosen.has(v)"
      @click="toggle(v)"
    >
      {{ words }}
    </button>
  </span>
  <span v-else-if="kind === 'seats'" class="some" role="group" :aria-label="label">
    <button
      v-for="s in seats"
      :key="s.id"
      type="button"
      class="word"
      :aria-pressed="chosen.has(s.id)"
      @click="toggleSeat(s.id)"
    >
      {{ s.name }}
    </button>
    <em v-if="seats.length === 0">there are no seats yet</em>
  </span>
  <select
    v-else-if="kind === 'seat'"
    class="field"
    :value="String(value ?? '')"
    :aria-label="label"
    @change="emit('set', ($event.target as HTMLSelectElement).value || undefined)"
  >
    <option value="">…</option>
    <option v-for="s in seats" :key="s.id" :value="s.id">{{ s.name }}</option>
  </select>
  <span v-else-if="kind === 'controllers'" class="some">
    <select
      class="field"
      :value="controllers"
      :aria-label="label"
      @change="
        emit(
          'set',
          ($event.target as HTMLSelectElement).value === 'some'
            ? [7]
            : ($event.target as HTMLSelectElement).value,
        )
      "
    >
      <option value="any">are all taken</option>
      <option value="none">are all refused</option>
      <option value="some">are taken where their number is</option>
    </select>
    <input
      v-if="controllers === 'some'"
      class="field"
      :value="(value as number[]).join(', ')"
      :aria-label="`${label}: their numbers`"
      @change="
        (e) => {
          const read = readField('numbers', (e.target as HTMLInputElement).value, null);
          emit('wrong', read.wrong ?? null);
          if (read.wrong === undefined) emit('set', read.value);
        }
      "
    />
  </span>
  <select
    v-else-if="kind === 'format'"
    class="field"
    :value="String(value ?? '')"
    :aria-label="label"
    @change="emit('set', ($event.target as HTMLSelectElement).value || undefined)"
  >
    <option value="">…</option>
    <option v-for="f in page?.formats.value ?? []" :key="f.id" :value="f.id">{{ f.name }}</option>
  </select>
  <FormatFiles
    v-else-if="kind === 'format-files'"
    :files="(value as never) ?? []"
    @set="(files) => emit('set', files)"
    @wrong="(says) => emit('wrong', says)"
  />
  <textarea
    v-else-if="kind === 'lines' || kind === 'named-keys'"
    v-model="typed"
    class="field block"
    :rows="Math.min(12, Math.max(2, typed.split('\n').length + 1))"
    :aria-label="label"
    :placeholder="
      kind === 'lines' ? 'One line for each thing to do' : '36 and its name, one a line'
    "
    @change="commit"
    @keydown="arrows"
  />
  <span v-else class="one">
    <input
      v-model="typed"
      class="field"
      :class="{ number: isNumber }"
      :aria-label="label"
      :placeholder="needed ? '…' : 'no limit'"
      :inputmode="kind === 'number' || kind === 'program' ? 'decimal' : 'text'"
      :list="kind === 'fact' ? 'known-facts' : undefined"
      autocomplete="off"
      spellcheck="false"
      @change="commit"
      @blur="commit"
      @keydown="arrows"
      @pointerdown="press"
      @pointermove="drag"
      @pointerup="release"
    />
    <span v-if="kind === 'key' && value !== undefined" class="name">{{ keyShown(value) }}</span>
    <button
      v-if="kind === 'keys'"
      type="button"
      class="link"
      :aria-expanded="painting"
      @click="emit('paint')"
    >
      {{ painting ? 'put the keyboard away' : 'paint them' }}
    </button>
    <datalist v-if="kind === 'fact'" id="known-facts">
      <option v-for="words in FACT_WORDS" :key="words" :value="words" />
    </datalist>
  </span>
</template>

<style scoped>
.field {
  min-width: 2ch;
  max-width: 100%;
  padding: 0 2px;
  border: 0;
  border-bottom: 1.5px solid var(--quill);
  border-radius: 0;
  background: transparent;
  color: var(--quill);
  font: inherit;
  font-style: italic;
  field-sizing: content;
}

.field:hover {
  background: var(--hatch-ground);
}

.field:focus {
  background: var(--page);
}

.field::placeholder {
  color: var(--ink-2);
  font-style: italic;
}

select.field option {
  background: var(--page);
  color: var(--ink);
  font-style: normal;
}

.number {
  cursor: ew-resize;
  text-align: center;
}

.number:focus {
  cursor: text;
}

.block {
  display: block;
  width: 100%;
  margin: 4px 0;
  border: 0;
  border-left: 2px solid var(--quill);
  padding: 2px 8px;
  font-style: normal;
  field-sizing: fixed;
  resize: vertical;
}

.name {
  margin-left: 3px;
  color: var(--ink-2);
  font: 12px var(--sans);
}

.some {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 8px;
}

.word {
  padding: 0 3px;
  border: 0;
  border-bottom: 1.5px dotted var(--ink-2);
  background: none;
  color: var(--ink-2);
  font: inherit;
  cursor: pointer;
}

.word[aria-pressed='true'] {
  border-bottom: 1.5px solid var(--quill);
  color: var(--quill);
  font-style: italic;
  font-weight: 600;
}

.link {
  margin-left: 6px;
  font: 12px var(--sans);
}
</style>
