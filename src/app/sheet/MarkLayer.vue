<script setup lang="ts">
import { computed } from 'vue';
import SeverityMark from '../margin/SeverityMark.vue';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import type { Marked } from './marks';

/** The marks of findings on the rows that are in view. */
const props = defineProps<{ marked: Marked; rows: ReadonlySet<number> }>();
const job = useJob();
const looking = useLooking();
const byKey = computed(() => new Map(job.findings.map((f) => [f.key, f])));
const marks = computed(() =>
  props.marked.marks.flatMap((m) => {
    const finding = byKey.value.get(m.key);
    return finding && props.rows.has(m.row) ? [{ ...m, finding }] : [];
  }),
);
const further = computed(() => props.marked.further.filter((m) => props.rows.has(m.row)));
const pick = (k: string) => looking.lookAt(looking.finding === k ? null : k);
</script>

<template>
  <span
    v-for="(m, i) in further"
    :key="`${m.key}-${i}`"
    class="further"
    :class="[m.severity, { open: looking.finding === m.key }]"
    :style="{ transform: `translate(${m.x}px, ${m.y}px)` }"
  ></span>
  <button
    v-for="m in marks"
    :key="m.key"
    type="button"
    class="plain placed"
    :class="{ open: looking.finding === m.key }"
    :style="{ transform: `translate(${m.x}px, ${m.y}px)` }"
    :aria-label="`Note ${m.finding.number}, ${m.finding.severity}: ${m.finding.title}, ${m.finding.where}`"
    :title="m.finding.title"
    @click="pick(m.key)"
  >
    <SeverityMark
      :severity="m.finding.severity"
      :text="m.finding.number"
      :quiet="m.finding.reason !== null"
    />
  </button>
</template>

<style scoped>
.placed {
  display: grid;
  place-items: center;
  min-width: 24px;
  height: 24px;
  border-radius: 12px;
}

.placed.open {
  box-shadow:
    0 0 0 2px var(--page),
    0 0 0 4px var(--ink);
}

.placed {
  position: absolute;
  top: -12px;
  left: -12px;
}

.further {
  position: absolute;
  top: -3px;
  left: -3px;
  width: 0;
  height: 0;
  border: 4px solid transparent;
  border-top: 5px solid var(--ink-2);
  border-bottom: 0;
  pointer-events: none;
}

.further.stop {
  border-top-color: var(--wax);
}

.further.caution {
  width: 8px;
  height: 8px;
  border: 0;
  background: var(--ochre-text);
  clip-path: polygon(50% 0, 100% 50%, 50% 100%, 0 50%);
}

.further.remark {
  width: 2px;
  height: 6px;
  margin-left: 2px;
  border: 0;
  background: var(--ink-2);
}

.further.open {
  border-width: 6px;
  border-top-width: 8px;
  border-bottom: 0;
  margin-left: -2px;
}
</style>
