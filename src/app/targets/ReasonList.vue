<script setup lang="ts">
import { NCheckbox } from 'naive-ui';
import type { SeparateReply } from '../../worker/protocol';

/** What tells some files from those that were taken: what is ticked goes into the target. */
defineProps<{ title: string; found: SeparateReply; amiss: string }>();
const ticked = defineModel<ReadonlySet<number>>('ticked', { required: true });
function toggle(i: number, on: boolean) {
  const next = new Set(ticked.value);
  if (on) next.add(i);
  else next.delete(i);
  ticked.value = next;
}
</script>

<template>
  <h3>{{ title }}</h3>
  <ol class="reasons">
    <li v-for="(p, i) in found.proposals.slice(0, 8)" :key="p.says">
      <NCheckbox :checked="ticked.has(i)" @update:checked="(on: boolean) => toggle(i, on)">
        {{ p.says }}
      </NCheckbox>
      <span v-if="p.twins" class="soft">
        {{ p.twins.refused }} and {{ p.twins.taken }} differ in this alone
      </span>
      <span v-else class="soft">
        nearest: {{ p.nearest.taken }} taken, {{ p.nearest.refused }} {{ amiss }}
      </span>
    </li>
  </ol>
  <p v-if="found.advice" class="serif">{{ found.advice }}</p>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
  font-size: 15px;
}

.reasons {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  margin: 0;
  padding-left: 20px;
}

.reasons .soft {
  display: block;
  padding-left: 24px;
}
</style>
