<script setup lang="ts">
import { NButton, NInput } from 'naive-ui';
import { computed, ref } from 'vue';
import { sayPlace } from '../../core/time/meter-map';
import { count, plain } from '../../core/target/words';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';

/** The captions of a delivery, each beside the advance that turns to it; and a list to paste. */
const job = useJob();
const looking = useLooking();
const board = computed(() => job.target?.captions ?? null);
const piece = computed(() => job.shown?.delivered ?? null);
const captions = computed(() => piece.value?.captions ?? []);

const advances = computed(() => {
  const found: number[] = [];
  for (const part of piece.value?.parts ?? []) {
    if (part.leftOut) continue;
    const { start, noteNumber, count: notes } = part.columns;
    for (let i = 0; i < notes; i++)
      if (noteNumber[i] === board.value?.noteNumber) found.push(start[i]!);
  }
  return found.sort((a, b) => a - b);
});

const MOST = 200;
const rows = computed(() => {
  const shown = piece.value;
  const limits = board.value;
  if (!shown || !limits) return [];
  const total = Math.max(captions.value.length, advances.value.length);
  return Array.from({ length: Math.min(total, MOST) }, (_, i) => {
    const caption = captions.value[i];
    const advance = advances.value[i];
    const lines = caption?.text.split('\n') ?? [];
    const lead =
      caption && advance !== undefined
        ? shown.clock.msAt(caption.tick) - shown.clock.msAt(advance)
        : null;
    const { leadLeastMs = 0, leadMostMs = Infinity, mostLines, longestLine } = limits;
    return {
      number: i + 1,
      tick: advance ?? caption?.tick ?? 0,
      place: advance === undefined ? 'no advance' : sayPlace(shown.bars.placeAt(advance)),
      lines,
      large: lines.length > mostLines || lines.some((l) => [...l].length > longestLine),
      lead,
      late: lead !== null && (lead < leadLeastMs - 1e-6 || lead > leadMostMs + 1e-6),
    };
  });
});
const more = computed(
  () => Math.max(captions.value.length, advances.value.length) - rows.value.length,
);

const pasting = ref(false);
const text = ref('');
const lines = computed(() => text.value.split('\n').filter((l) => l.trim() !== ''));
function use() {
  if (!board.value) return;
  const { longestLine } = board.value;
  const params = { from: 'list', lines: lines.value, longestLine };
  job.addSteps(`${count(lines.value.length, 'caption')} from a list`, [
    { step: 'captions', params, scope: {}, on: true },
  ]);
  pasting.value = false;
  text.value = '';
}
</script>

<template>
  <section class="captions" aria-labelledby="captions-title">
    <h3 id="captions-title">Captions</h3>
    <p class="soft">
      {{ count(captions.length, 'caption') }}, {{ count(advances.length, 'advance') }}; at most
      {{ board?.mostLines }} lines of {{ board?.longestLine }} letters.
    </p>
    <ol class="list">
      <li v-for="r in rows" :key="r.number">
        <button class="row" type="button" @click="looking.bring(r.tick)">
          <span class="number">{{ r.number }}</span>
          <span class="words serif" :class="{ amiss: r.large || r.lines.length === 0 }">
            <template v-if="r.lines.length === 0">no caption</template>
            <span v-for="(l, i) in r.lines" :key="i" class="line">{{ l }}</span>
          </span>
          <span class="soft" :class="{ amiss: r.late || r.lead === null }">
            {{ r.place }}{{ r.lead === null ? '' : `, ${plain(r.lead)} ms before its word` }}
          </span>
        </button>
      </li>
    </ol>
    <p v-if="more > 0" class="soft">and {{ more }} more</p>
    <template v-if="pasting">
      <NInput
        v-model:value="text"
        type="textarea"
        :autosize="{ minRows: 4, maxRows: 12 }"
        placeholder="A caption a line, one for each advance"
        :input-props="{ 'aria-label': 'Captions, one a line' }"
      />
      <div class="buttons">
        <NButton size="small" type="primary" :disabled="lines.length === 0" @click="use">
          Use {{ count(lines.length, 'line') }}
        </NButton>
        <NButton size="small" @click="pasting = false">Give up</NButton>
      </div>
    </template>
    <NButton v-else size="small" :disabled="job.readOnly" @click="pasting = true">
      Paste a list…
    </NButton>
  </section>
</template>

<style scoped>
.list {
  max-height: 320px;
  margin: 6px 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

.row {
  display: grid;
  grid-template-columns: 24px 1fr;
  gap: 0 6px;
  width: 100%;
  padding: 4px 2px;
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.number {
  grid-row: span 2;
  font-variant-numeric: tabular-nums;
}

.line {
  display: block;
}

.amiss {
  padding-left: 6px;
  border-left: 3px solid var(--wax);
}

.buttons {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
</style>
