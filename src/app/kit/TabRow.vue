<script setup lang="ts" generic="T extends string">
import { plain } from '../../core/target/words';

/** A row of tabs: arrows, Home and End walk through them, and the one in view takes the focus. */
const props = defineProps<{
  label: string;
  tabs: readonly { id: T; name: string; title?: string; count?: number }[];
}>();
const here = defineModel<T>({ required: true });

function walk(event: KeyboardEvent) {
  const at = props.tabs.findIndex((t) => t.id === here.value);
  const n = props.tabs.length;
  const to = { ArrowRight: at + 1, ArrowLeft: at - 1 + n, Home: 0, End: n - 1 }[event.key];
  if (to === undefined) return;
  event.preventDefault();
  here.value = props.tabs[to % n]!.id;
  const row = event.currentTarget as HTMLElement;
  row.querySelectorAll<HTMLElement>('[role="tab"]')[to % n]?.focus();
}
</script>

<template>
  <div class="tabs" role="tablist" :aria-label="label" @keydown="walk">
    <button
      v-for="t in tabs"
      :key="t.id"
      type="button"
      role="tab"
      :aria-selected="here === t.id"
      :tabindex="here === t.id ? 0 : -1"
      :title="t.title"
      @click="here = t.id"
    >
      {{ t.name }} <span v-if="t.count !== undefined" class="soft">{{ plain(t.count) }}</span>
    </button>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
}

.tabs button {
  padding: 8px 0 4px;
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  color: var(--ink-2);
  font: 600 15px var(--serif);
  white-space: nowrap;
  cursor: pointer;
}

.tabs button[aria-selected='true'] {
  border-color: var(--quill);
  color: var(--ink);
}
</style>
