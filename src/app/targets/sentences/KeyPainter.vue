<script setup lang="ts">
import { computed, ref } from 'vue';
import { noteName } from '../../../core/target/words';

/** A keyboard on which keys are given and taken away: by click, by a stroke over several, by keys. */
const props = defineProps<{
  chosen: readonly number[];
  label: string;
  names?: ReadonlyMap<number, string>;
}>();
const emit = defineEmits<{ change: [keys: number[]] }>();

const BLACK = new Set([1, 3, 6, 8, 10]);
const HEIGHT = 46;
const own = computed(() => new Set(props.chosen));
const keys = computed(() => {
  let white = 0;
  const all = Array.from({ length: 128 }, (_, key) => {
    const black = BLACK.has(key % 12);
    const x = black ? white - 0.32 : white;
    if (!black) white++;
    return { key, x, black };
  });
  return { all: all.sort((a, b) => Number(a.black) - Number(b.black)), width: white };
});

const at = ref(60);
/** What a stroke does to each key that it meets: gives, or takes away. */
let giving: boolean | null = null;
function set(key: number, there: boolean) {
  if (own.value.has(key) === there) return;
  const next = new Set(own.value);
  if (there) next.add(key);
  else next.delete(key);
  emit(
    'change',
    [...next].sort((a, b) => a - b),
  );
}
function press(key: number, event: PointerEvent) {
  (event.target as Element).releasePointerCapture?.(event.pointerId);
  giving = !own.value.has(key);
  at.value = key;
  set(key, giving);
}
function meet(key: number, event: PointerEvent) {
  if (giving === null || event.buttons === 0) return;
  at.value = key;
  set(key, giving);
}
function walk(event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowLeft: -1, ArrowUp: 12, ArrowDown: -12 }[event.key];
  if (by !== undefined) {
    event.preventDefault();
    const was = at.value;
    at.value = Math.max(0, Math.min(127, at.value + by));
    if (event.shiftKey) set(at.value, own.value.has(was));
  } else if (event.key === ' ' || event.key === 'Enter') {
    event.preventDefault();
    set(at.value, !own.value.has(at.value));
  }
}
const said = (key: number) => {
  const name = props.names?.get(key);
  return `${noteName(key)} (${key})${name ? `, ${name}` : ''}: ${own.value.has(key) ? 'there' : 'not there'}`;
};
</script>

<template>
  <span
    class="painter"
    tabindex="0"
    role="application"
    :aria-label="`${label}: a keyboard. Arrows walk, space gives or takes a key.`"
    @keydown="walk"
    @pointerup="giving = null"
    @pointerleave="giving = null"
  >
    <svg :viewBox="`0 0 ${keys.width * 10} ${HEIGHT + 13}`" aria-hidden="true">
      <rect
        v-for="k in keys.all"
        :key="k.key"
        :x="k.x * 10"
        y="0.5"
        :width="k.black ? 6.4 : 10"
        :height="k.black ? HEIGHT * 0.6 : HEIGHT"
        :class="{ black: k.black, there: own.has(k.key), at: k.key === at }"
        @pointerdown="press(k.key, $event)"
        @pointerenter="meet(k.key, $event)"
      >
        <title>{{ said(k.key) }}</title>
      </rect>
      <text
        v-for="k in keys.all.filter((o) => o.key % 12 === 0)"
        :key="`n${k.key}`"
        :x="k.x * 10 + 1"
        :y="HEIGHT + 11"
      >
        {{ noteName(k.key) }}
      </text>
    </svg>
    <span class="said" aria-live="polite">{{ said(at) }}</span>
  </span>
</template>

<style scoped>
.painter {
  display: block;
  margin: 4px 0 6px;
  touch-action: none;
}

svg {
  display: block;
  width: 100%;
}

rect {
  fill: var(--page);
  stroke: var(--ink-2);
  stroke-width: 0.6;
  cursor: pointer;
}

rect.black {
  fill: var(--hatch-ground);
}

rect.there {
  fill: var(--quill);
}

rect.at {
  stroke: var(--ink);
  stroke-width: 1.6;
}

text {
  fill: var(--ink-2);
  font: 10px var(--sans);
}

.said {
  color: var(--ink-2);
  font: 12px var(--sans);
}
</style>
