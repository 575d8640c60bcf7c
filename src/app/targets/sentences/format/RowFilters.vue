<script setup lang="ts">
import { computed, inject } from 'vue';
import { PAGE } from '../page';
import type { RowFilter } from './row-choices';

/** Which notes are meant, each thing that can be said of them in a field of its own. */
const props = defineProps<{
  filters: readonly RowFilter[];
  /** Seats that are meant, by their ids; null where rows are of no notes. */
  seats: readonly string[] | null;
  name: string;
}>();
const emit = defineEmits<{
  /** `taken` is false where that cannot be said. */
  say: [key: RowFilter['key'], said: string, taken: (is: boolean) => void];
  seats: [ids: readonly string[]];
}>();
const page = inject(PAGE, null);
const all = computed(
  () => (page?.target.value['seats'] ?? []) as readonly { id: string; name: string }[],
);
function say(f: RowFilter, element: HTMLInputElement | HTMLSelectElement) {
  // What it cannot be is put back.
  emit('say', f.key, element.value, (is) => {
    if (!is) element.value = f.said;
  });
}
function toggle(id: string) {
  const now = props.seats ?? [];
  emit('seats', now.includes(id) ? now.filter((s) => s !== id) : [...now, id]);
}
</script>

<template>
  <span v-for="f in filters" :key="f.key" class="filter">
    <label v-if="f.kind === 'yes'" class="yes"
      ><input
        type="checkbox"
        :checked="f.said !== ''"
        @change="emit('say', f.key, f.said === '' ? 'yes' : '', () => undefined)"
      />
      {{ f.words }}</label
    >
    <template v-else>
      {{ f.words }}
      <select
        v-if="f.kind === 'choice'"
        class="field"
        :value="f.said"
        :aria-label="`${name}: ${f.words} ${f.after}`.trim()"
        @change="say(f, $event.target as HTMLSelectElement)"
      >
        <option v-for="[id, words] in f.options" :key="id" :value="id">{{ words }}</option>
      </select>
      <input
        v-else
        class="field"
        :value="f.said"
        :aria-label="`${name}: ${f.words} ${f.after}`.trim()"
        @change="say(f, $event.target as HTMLInputElement)"
      />
      {{ f.after }}
    </template>
  </span>
  <span v-if="seats && all.length > 1" class="filter">
    of seats
    <button
      v-for="s in all"
      :key="s.id"
      type="button"
      class="link seat"
      :aria-pressed="seats.includes(s.id)"
      @click="toggle(s.id)"
    >
      {{ s.name }}
    </button>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.filter {
  margin-left: 0.35em;
}

.yes {
  white-space: nowrap;
}

.seat[aria-pressed='true'] {
  font-weight: 600;
  text-decoration: none;
}
</style>
