<script setup lang="ts">
import { NSelect } from 'naive-ui';
import { computed } from 'vue';
import { refKey } from '../../../core/score/address';
import type { PartRef } from '../../../core/score/score';
import type { LineSpanView } from '../../../core/wire/music';
import { count } from '../../../core/target/words';
import { useJob } from '../../stores/job';

/** Lines that were made of several parts: who has them, stretch by stretch, each to be chosen anew. */
const job = useJob();

interface Take {
  readonly fromBar: number;
  readonly bars: number;
  readonly part: PartRef;
}
interface FollowParams {
  readonly line: 'tune' | 'bass' | 'chords' | 'beat';
  readonly takes?: readonly Take[];
}
const TITLES = { tune: 'The tune, followed', bass: 'The bass, followed' } as const;

const lines = computed(() =>
  (job.plan?.now.steps ?? []).flatMap((step) => {
    const params = step.params as FollowParams;
    if (step.step !== 'follow' || !step.on || !(params.line === 'tune' || params.line === 'bass'))
      return [];
    const spans = job.shown?.music[params.line] ?? [];
    return [{ step, params, title: TITLES[params.line], rows: rowsOf(spans, params.takes ?? []) }];
  }),
);

interface Row {
  readonly fromBar: number;
  readonly bars: number;
  readonly ref: PartRef;
  readonly chosen: boolean;
}

/** Stretches as they are read, longer ones by eight bars, and what was chosen instead. */
function rowsOf(spans: readonly LineSpanView[], takes: readonly Take[]): Row[] {
  return spans.flatMap(({ ref, fromBar, bars }) =>
    Array.from({ length: Math.ceil(bars / PHRASE) }, (_, n): Row => {
      const first = fromBar + n * PHRASE;
      const own = takes.findLast((t) => first >= t.fromBar && first < t.fromBar + t.bars);
      return {
        fromBar: first,
        bars: Math.min(PHRASE, fromBar + bars - first),
        ref: own?.part ?? ref,
        chosen: own !== undefined,
      };
    }),
  );
}
const PHRASE = 8;

const players = computed(() =>
  (job.shown?.source.parts ?? [])
    .filter((p) => p.columns.count > 0)
    .map((p) => ({ label: p.name, value: refKey(p.ref) })),
);

function take(line: (typeof lines.value)[number], row: Row, key: string) {
  const ref = job.shown?.source.parts.find((p) => refKey(p.ref) === key)?.ref;
  if (!ref) return;
  const { step, params } = line;
  const kept = (params.takes ?? []).filter((t) => t.fromBar !== row.fromBar);
  const takes = [...kept, { fromBar: row.fromBar, bars: row.bars, part: ref }];
  const scope = step.scope.parts
    ? { ...step.scope, parts: withRef(step.scope.parts, ref) }
    : step.scope;
  job.editStep(
    step.key,
    { ...step, params: { ...params, takes }, scope },
    `${barsOf(row)} from ${ref.track}`,
  );
}
const withRef = (parts: readonly PartRef[], ref: PartRef) =>
  parts.some((p) => refKey(p) === refKey(ref)) ? parts : [...parts, ref];
const barsOf = ({ fromBar, bars }: Row) =>
  bars === 1 ? `Bar ${fromBar}` : `Bars ${fromBar}–${fromBar + bars - 1}`;
</script>

<template>
  <section v-for="line in lines" :key="line.step.key" class="followed" :aria-label="line.title">
    <h3>
      {{ line.title }}
      <span class="soft count"
        >{{ count(line.rows.length, 'stretch', 'stretches') }} of the source</span
      >
    </h3>
    <ul>
      <li v-for="row in line.rows" :key="row.fromBar">
        <span class="bars">{{ barsOf(row) }}</span>
        <NSelect
          size="small"
          :value="refKey(row.ref)"
          :options="players"
          :disabled="job.readOnly"
          :consistent-menu-width="false"
          :aria-label="`${barsOf(row)} from`"
          @update:value="take(line, row, $event)"
        />
        <span v-if="row.chosen" class="soft">chosen</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.followed {
  margin-top: 18px;
}

ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  gap: 6px 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 92px 1fr auto;
  gap: 8px;
  align-items: center;
}

.bars {
  font-variant-numeric: tabular-nums;
}
</style>
