<script setup lang="ts">
import type { Severity } from '../../core/rules/finding';

/** A stop is a filled dot, a caution an outlined one, a remark a caret: shape as well as colour. */
defineProps<{ severity: Severity; text?: string | number; quiet?: boolean }>();
</script>

<template>
  <span class="mark" :class="[severity, { quiet }]"
    ><span class="text">{{ text }}</span></span
  >
</template>

<style scoped>
.mark {
  display: inline-grid;
  place-items: center;
  min-width: 22px;
  height: 22px;
  padding: 0 5px;
  border: 2px solid transparent;
  border-radius: 11px;
  font: 600 12px/1 var(--sans);
}

.stop {
  background: var(--wax);
  color: var(--on-wax);
}

.caution {
  border-color: var(--ochre);
  background: var(--page);
  color: var(--ochre-text);
}

.remark {
  position: relative;
  padding-top: 8px;
  border-radius: 4px;
  background: var(--page);
  color: var(--ink-2);
}

.remark::before {
  position: absolute;
  top: 1px;
  left: 50%;
  width: 8px;
  height: 8px;
  border: solid var(--ink-2);
  border-width: 2px 0 0 2px;
  content: '';
  transform: translateX(-50%) rotate(45deg);
}

/* What is left as it is keeps its number and its shape, and gives up its colour. */
.quiet {
  border: 2px dotted var(--ink-2);
  background: var(--page);
  color: var(--ink-2);
}
</style>
