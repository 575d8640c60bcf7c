<script setup lang="ts">
import { computed } from 'vue';
import { useJob } from '../stores/job';

/**
 * The letter of a source, by its place in the job as its parts stand there: the ruling one first.
 * Nothing where there is but one.
 */
const props = defineProps<{ source: string }>();
const job = useJob();
const order = computed(() => job.shown?.uses.map((u) => u.source) ?? []);
const at = computed(() => order.value.indexOf(props.source));
const letter = computed(() => String.fromCharCode(97 + (Math.max(0, at.value) % 26)));
const name = computed(() => job.sourcesNow.find((s) => s.key === props.source)?.name ?? '');
</script>

<template>
  <span v-if="job.sourcesNow.length > 1 && at >= 0" class="mark" :title="name"
    >{{ letter }}<span class="sr"> ({{ name }})</span></span
  >
</template>

<style scoped>
.mark {
  flex: none;
  display: inline-block;
  width: 17px;
  border: 1px solid var(--ink-2);
  border-radius: 4px;
  color: var(--ink-2);
  font: italic 400 12px/15px var(--serif);
  text-align: center;
}
</style>
