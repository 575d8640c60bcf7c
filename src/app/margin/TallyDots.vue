<script setup lang="ts">
defineProps<{
  tally: { stops: number; cautions: number; remarks: number };
  /** It was not said what it is for: nothing is in order, and nothing is not. */
  unsaid?: boolean;
}>();
const many = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`;
</script>

<template>
  <span class="tally">
    <span v-if="tally.stops > 0" class="pill stop">{{ many(tally.stops, 'stop') }}</span>
    <span v-if="tally.cautions > 0" class="pill caution">{{
      many(tally.cautions, 'caution')
    }}</span>
    <span v-if="tally.remarks > 0" class="pill remark">{{ many(tally.remarks, 'remark') }}</span>
    <span v-if="unsaid" class="pill remark">not judged yet</span>
    <span v-else-if="tally.stops + tally.cautions + tally.remarks === 0" class="pill order"
      >in order</span
    >
  </span>
</template>

<style scoped>
.tally {
  display: inline-flex;
  gap: 6px;
}

.pill {
  padding: 2px 9px;
  border: 1px solid transparent;
  border-radius: 12px;
  font-size: 12px;
  white-space: nowrap;
}

.stop {
  background: var(--wax);
  color: var(--on-wax);
}

.caution {
  border-color: var(--ochre);
  color: var(--ochre-text);
}

.remark {
  border-color: var(--line);
  color: var(--ink-2);
}

.order {
  border-color: var(--moss);
  color: var(--moss-text);
}
</style>
