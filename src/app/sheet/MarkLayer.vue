<script setup lang="ts">
import { computed } from 'vue';
import SeverityMark from '../margin/SeverityMark.vue';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { furtherPaths } from './further-paths';
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
const paths = computed(() => furtherPaths(further.value).map((p) => ({ ...p, open: false })));
/** Those of the note that is looked at lie over them, larger. */
const LARGER = 1.5;
const open = computed(() =>
  furtherPaths(
    further.value.filter((m) => m.key === looking.finding),
    LARGER,
  ).map((p) => ({ ...p, open: true })),
);
const pick = (k: string) => looking.lookAt(looking.finding === k ? null : k);
</script>

<template>
  <svg
    v-for="p in [...paths, ...open]"
    :key="`${p.row} ${p.severity} ${p.open}`"
    class="further"
    :class="p.severity"
    :style="{ transform: `translateY(${p.top}px)` }"
    aria-hidden="true"
  >
    <path :d="p.d" />
  </svg>
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
  top: 0;
  left: 0;
  width: 1px;
  height: 1px;
  overflow: visible;
  fill: var(--ink-2);
  pointer-events: none;
}

.further.stop {
  fill: var(--wax);
}

.further.caution {
  fill: var(--ochre-text);
}
</style>
