<script setup lang="ts">
import { NButton } from 'naive-ui';
import { ChevronDown, ChevronRight } from '@lucide/vue';
import { computed } from 'vue';
import { fitting } from '../../../core/seating/key-use';
import { count, countOf, plain } from '../../../core/target/words';
import { sayContent } from '../../../core/wire/content';
import { useJob } from '../../stores/job';
import { useSeating, type SeatView } from '../../stores/seating';
import InTurn from '../../kit/InTurn.vue';
import KeyStrip from './KeyStrip.vue';
import SeatedPart from './SeatedPart.vue';
import SlipPile from './SlipPile.vue';

/** A seat: what it takes, who sits there, and what would come of those that are chosen. */
const props = defineProps<{ view: SeatView; digit: number | null }>();
const job = useJob();
const seating = useSeating();

const columns = computed(() => props.view.parts.map((p) => p.columns));
const counts = computed(() => seating.countsOfAll(columns.value));
const notes = computed(() => columns.value.reduce((n, c) => n + c.count, 0));
const fits = computed(() =>
  props.view.allowed ? fitting(counts.value, props.view.allowed) : notes.value,
);
const atOnce = computed(() => seating.atOnceOf(columns.value));
const aimed = computed(() => seating.aim === props.view.id);
const preview = computed(() =>
  aimed.value ? seating.previewAt(props.view, seating.chosen) : null,
);
const open = computed(() => seating.opened === props.view.id);
/** It takes no notes: keys say nothing of it. */
const deaf = computed(() => job.target?.notes?.none ?? false);
const names = computed(() => {
  const lanes = props.view.seat?.kind === 'laneGroup' ? props.view.seat.laneNotes : [];
  return new Map([
    ...(seating.kit?.keys ?? []).map((k): [number, string] => [k.noteNumber, k.name]),
    ...lanes.map((k, i): [number, string] => [k, `lane ${i + 1}`]),
  ]);
});
const facts = computed(() => {
  const { seat } = props.view;
  const out: string[] = [];
  if (seat && 'channel' in seat && seat.channel) out.push(`channel ${seat.channel}`);
  if (seat && 'track' in seat && seat.track) out.push(`track “${seat.track}”`);
  if (props.view.together !== null) out.push(`${count(props.view.together, 'note')} at once`);
  return out.join(' · ');
});
const raw = computed(() => {
  const { seat } = props.view;
  return seat && 'channel' in seat && seat.channel
    ? `Channel ${seat.channel}; in the bytes ${seat.channel - 1}`
    : undefined;
});
const percent = (n: number, of: number) => `${Math.floor((n / Math.max(1, of)) * 100)} %`;
const tooMany = (n: number) => props.view.together !== null && n > props.view.together;
const amiss = computed(() => fits.value < notes.value || tooMany(atOnce.value));
/** More together than the seat sounds is said with what it sounds. */
const together = (n: number) =>
  tooMany(n) ? `${n} at once where it sounds ${props.view.together}` : `${n} at once`;
const says = computed(() => {
  const p = preview.value;
  if (!p) {
    if (notes.value === 0) return props.view.parts.map(sayContent).join('; ');
    const all = fits.value === notes.value;
    return `${all ? 'every note fits' : `${percent(fits.value, notes.value)} fit`}, ${together(atOnce.value)}`;
  }
  const clash = p.clashes > 0 ? `, ${plain(p.clashes)} on keys that sound already` : '';
  return `${countOf(p.fits, p.notes, 'note')} would fit (${percent(p.fits, p.notes)}), ${together(p.atOnce)}${clash}`;
});
const elsewhere = computed(() => seating.chosen.filter((p) => !props.view.parts.includes(p)));
</script>

<template>
  <li
    class="seat"
    :class="{ aimed, empty: view.parts.length === 0, open }"
    :data-to="view.id"
    :data-seat="view.id"
  >
    <div class="top">
      <button
        class="plain title"
        type="button"
        :aria-expanded="open"
        :disabled="view.parts.length === 0"
        @click="seating.opened = open ? null : view.id"
      >
        <component :is="open ? ChevronDown : ChevronRight" :size="14" aria-hidden="true" />
        <span class="seat-name" :title="view.name">{{ view.name }}</span>
      </button>
      <NButton
        v-if="elsewhere.length > 0"
        class="here"
        size="tiny"
        :disabled="job.readOnly"
        :aria-label="`${elsewhere.length === 1 ? elsewhere[0]!.name : count(elsewhere.length, 'part')} here`"
        :title="`Seat ${elsewhere.map((p) => p.name).join(', ')} at ${view.name}`"
        @focus="seating.aim = view.id"
        @blur="seating.aim = null"
        @mouseenter="seating.aim = view.id"
        @mouseleave="seating.aim = null"
        @click="seating.place(elsewhere, view.id)"
      >
        Here
      </NButton>
      <kbd v-if="digit !== null" class="digit" aria-hidden="true">{{ digit }}</kbd>
    </div>
    <p class="facts-line soft" :title="raw">{{ facts }}</p>
    <KeyStrip
      v-if="!deaf && (!open || view.parts.length > 1)"
      :counts="counts"
      :allowed="view.allowed"
      :coming="preview?.counts ?? null"
      :names="names"
      :label="`Keys of ${view.name}: ${says || 'none used'}`"
    />
    <p
      class="says"
      :class="{
        amiss: preview ? preview.fits < preview.notes || tooMany(preview.atOnce) : amiss,
      }"
    >
      {{ says || 'empty' }}
    </p>
    <SlipPile :parts="view.parts" :label="`At ${view.name}`" />
    <div v-if="open" class="tools">
      <InTurn v-for="part in view.parts" :key="part.id">
        <SeatedPart :part="part" :view="view" :names="names" />
      </InTurn>
    </div>
  </li>
</template>

<style scoped>
.seat {
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-width: 0;
  padding: 7px 9px 9px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.empty {
  border-style: dashed;
  background: none;
}

.aimed {
  border-color: var(--quill);
  box-shadow: inset 0 0 0 1px var(--quill);
}

.open {
  grid-column: 1 / -1;
}

.top {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
}

.title {
  display: flex;
  gap: 3px;
  align-items: center;
  min-width: 0;
  min-height: 24px;
  font: 600 14px/1.25 var(--serif);
  text-align: left;
}

.seat-name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.title:disabled {
  cursor: default;
}

.title:disabled :deep(svg) {
  visibility: hidden;
}

.digit {
  flex: none;
  padding: 0 5px;
  border: 1px solid var(--line);
  border-radius: 4px;
  color: var(--ink-2);
  font: 12px/16px var(--sans);
}

.facts-line {
  min-height: 17px;
  font-size: 12px;
}

/* Two lines: what would come of a part is longer, and nothing shall move under the pointer. */
.says {
  min-height: 34px;
  font-size: 12px;
}

.amiss {
  color: var(--wax);
}

.here {
  flex: none;
  margin-left: auto;
}

.tools {
  display: grid;
  gap: 10px;
  margin-top: 4px;
  padding-top: 8px;
  border-top: 1px solid var(--line);
}
</style>
