<script setup lang="ts">
import { NButton, NInputNumber, NSelect } from 'naive-ui';
import { X } from '@lucide/vue';
import { computed } from 'vue';
import type { Disagreement, LineUp } from '../../core/sources/disagree';
import { useJob } from '../stores/job';
import SourceMark from '../parts/SourceMark.vue';

/** The sources of the job: how each takes part, what it follows, and where two disagree. */
const job = useJob();
// In the order of their parts: the ruling one first.
const uses = computed(() =>
  (job.shown?.uses ?? []).filter((u) => job.sourcesNow.some((s) => s.key === u.source)),
);
const several = computed(() => uses.value.length > 1);
const disagreements = computed(() => job.shown?.disagreements ?? []);
const AS = [
  { label: 'together', value: 'together' },
  { label: 'a file of its own', value: 'file' },
];
const FOLLOWS = [
  { label: 'bars', value: 'bars' },
  { label: 'the clock', value: 'clock' },
];

/** By bars in ticks of the source, by the clock in milliseconds: as it is stored, or near it. */
const offsetOf = (u: { follows: string; offset: number }) =>
  u.follows === 'clock' ? u.offset / 1000 : u.offset;

function setOffset(u: (typeof uses.value)[number], value: number | null) {
  if (value === null) return;
  const offset = u.follows === 'clock' ? Math.round(value * 1000) : Math.round(value);
  if (offset !== u.offset) job.useSource(u.source, { offset }, `${u.name}: offset ${value}`);
}
const lineUp = (d: Disagreement, o: LineUp) =>
  job.useSource(d.source, { follows: o.follows, offset: o.offset }, `${o.title}`);
</script>

<template>
  <section class="sources" aria-labelledby="sources-title">
    <h3 id="sources-title">Sources</h3>
    <ul v-if="several && disagreements.length > 0" class="disagree">
      <li v-for="(d, i) in disagreements" :key="`${d.source}-${d.kind}-${i}`" class="serif">
        {{ d.says }}
        <span v-if="d.offers.length > 0" class="offers">
          <NButton
            v-for="o in d.offers"
            :key="o.title"
            size="small"
            :disabled="job.readOnly"
            @click="lineUp(d, o)"
          >
            {{ o.title }}
          </NButton>
        </span>
      </li>
    </ul>
    <p v-for="says in job.shown?.remarks ?? []" :key="says" class="soft">{{ says }}</p>
    <ol class="list">
      <li v-for="u in uses" :key="u.source" class="source">
        <div class="name">
          <SourceMark :source="u.source" />
          <button
            class="plain"
            type="button"
            :title="u.name"
            :aria-pressed="job.lookedAt === u.source"
            @click="job.lookedAt = u.source"
          >
            {{ u.name }}
          </button>
          <NButton
            v-if="several"
            size="tiny"
            quaternary
            :aria-label="`Take ${u.name} out of the job`"
            :disabled="job.readOnly"
            @click="job.removeSource(u.source)"
          >
            <template #icon><X :size="14" /></template>
          </NButton>
        </div>
        <p class="soft">{{ u.says }}</p>
        <div v-if="several" class="use">
          <NSelect
            size="small"
            :value="u.as"
            :options="AS"
            :disabled="job.readOnly"
            :aria-label="`How ${u.name} takes part`"
            @update:value="
              (as: 'together' | 'file') =>
                job.useSource(
                  u.source,
                  { as, rules: false },
                  `${u.name}: ${as === 'file' ? 'a file of its own' : 'together'}`,
                )
            "
          />
          <template v-if="u.as === 'together' && !u.rules">
            <NSelect
              size="small"
              :value="u.follows"
              :options="FOLLOWS"
              :disabled="job.readOnly"
              :aria-label="`What ${u.name} follows`"
              @update:value="
                (follows: 'bars' | 'clock') =>
                  job.useSource(u.source, { follows, offset: 0 }, `${u.name} follows ${follows}`)
              "
            />
            <NInputNumber
              size="small"
              :value="offsetOf(u)"
              :show-button="false"
              :precision="u.follows === 'clock' ? 3 : 0"
              :disabled="job.readOnly"
              :input-props="{ 'aria-label': `Offset of ${u.name}` }"
              update-value-on-input
              @blur="(e: FocusEvent) => setOffset(u, Number((e.target as HTMLInputElement).value))"
              @keydown.enter="
                (e: KeyboardEvent) => setOffset(u, Number((e.target as HTMLInputElement).value))
              "
            >
              <template #suffix>{{ u.follows === 'clock' ? 'ms' : 'ticks' }}</template>
            </NInputNumber>
            <NButton
              size="small"
              :disabled="job.readOnly"
              @click="
                job.useSource(
                  u.source,
                  { rules: true, offset: 0 },
                  `${u.name} rules tempo and meter`,
                )
              "
            >
              Let it rule
            </NButton>
          </template>
        </div>
      </li>
    </ol>
    <p v-if="!several" class="soft">Drop another file to add a source beside this one.</p>
  </section>
</template>

<style scoped>
.list,
.disagree {
  margin: 0;
  padding: 0;
  list-style: none;
}

.disagree li {
  margin-bottom: 8px;
  padding: 6px 8px;
  border-left: 3px solid var(--ochre);
  background: var(--ochre-wash);
}

.offers {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}

.source {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}

.name {
  display: flex;
  gap: 6px;
  align-items: center;
  min-width: 0;
}

.name .plain {
  overflow: hidden;
  flex: 1;
  text-align: left;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.use {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  margin-top: 4px;
}
</style>
