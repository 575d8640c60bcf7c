<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { Minus, Pencil, Plus, Spline, Trash2, X } from '@lucide/vue';
import InkSwatch from '../parts/InkSwatch.vue';
import { useHand } from '../stores/hand';
import { useJob, type LaidPiece } from '../stores/job';
import { useLooking } from '../stores/looking';

/** What stands above the close-up: whose notes, the grid, and what is done to what is chosen. */
defineProps<{
  /** The part whose notes are in front; null where all are. */
  part: LaidPiece['parts'][number] | null;
  ink: number;
  says: string;
  hasCurves: boolean;
}>();
const emit = defineEmits<{ zoom: [by: number]; keep: [which: 'top' | 'bottom'] }>();
/** How many lines a quarter has; 0 is off the grid. */
const divide = defineModel<number>('divide', { required: true });
const drawing = defineModel<boolean>('drawing', { required: true });
const follows = defineModel<boolean>('follows', { required: true });
/** Curves under the notes, where there are any. */
const curves = defineModel<boolean>('curves', { required: true });
const job = useJob();
const looking = useLooking();
const hand = useHand();
const GRIDS = [
  { label: 'Off the grid', value: 0 },
  { label: '1/4', value: 1 },
  { label: '1/8', value: 2 },
  { label: '1/8 triplets', value: 3 },
  { label: '1/16', value: 4 },
  { label: '1/16 triplets', value: 6 },
  { label: '1/32', value: 8 },
];
</script>

<template>
  <div class="bar">
    <strong class="who">
      <template v-if="part"> <InkSwatch :index="ink" /> {{ part.name }} </template>
      <template v-else>All parts</template>
    </strong>
    <NSelect
      v-model:value="divide"
      class="grid"
      size="tiny"
      :options="GRIDS"
      aria-label="Grid of the close-up"
    />
    <button
      class="icon"
      type="button"
      :aria-pressed="drawing"
      :disabled="job.readOnly"
      aria-label="Draw notes"
      title="Draw notes (D)"
      @click="drawing = !drawing"
    >
      <Pencil :size="15" />
    </button>
    <button
      v-if="hasCurves"
      class="icon"
      type="button"
      :aria-pressed="curves"
      aria-label="Curves under the notes"
      title="Curves under the notes"
      @click="curves = !curves"
    >
      <Spline :size="15" />
    </button>
    <button
      class="icon zoom"
      type="button"
      aria-label="Closer"
      title="Closer (+)"
      @click="emit('zoom', 0.7)"
    >
      <Plus :size="15" />
    </button>
    <button
      class="icon zoom"
      type="button"
      aria-label="Further away"
      title="Further away (−)"
      @click="emit('zoom', 1 / 0.7)"
    >
      <Minus :size="15" />
    </button>
    <label class="follow" title="Goes with the music">
      <input v-model="follows" type="checkbox" aria-label="Goes with the music" />
      <span class="long">Goes with the music</span>
      <span class="short" aria-hidden="true">Follows</span>
    </label>
    <span class="says soft" aria-live="polite">{{ says }}</span>
    <template v-if="looking.chosen.size > 1">
      <NButton size="tiny" @click="emit('keep', 'top')">Tops</NButton>
      <NButton size="tiny" @click="emit('keep', 'bottom')">Bottoms</NButton>
    </template>
    <NButton
      v-if="hand.turnable"
      size="tiny"
      :disabled="job.readOnly"
      title="To the other side of the split (X)"
      @click="hand.turn()"
    >
      Other side
    </NButton>
    <button
      class="icon"
      type="button"
      :disabled="looking.chosen.size === 0 || job.readOnly"
      aria-label="Take the chosen notes out"
      title="Take the chosen notes out (Delete)"
      @click="hand.takeOut()"
    >
      <Trash2 :size="15" />
    </button>
    <button
      class="icon"
      type="button"
      aria-label="Close the close-up"
      title="Close (C)"
      @click="hand.close()"
    >
      <X :size="16" />
    </button>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 7px;
  align-items: center;
  min-width: 0;
  padding: 0 8px 0 14px;
}

.who {
  display: flex;
  gap: 6px;
  align-items: center;
  max-width: 130px;
  overflow: hidden;
  font-weight: 500;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.grid {
  flex: none;
  width: 118px;
}

.follow {
  display: flex;
  flex: none;
  gap: 5px;
  align-items: center;
}

.says {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.follow .short {
  display: none;
}

/* In a narrow middle the buttons stay; what is only said gives way. */
@container close-up (width <= 640px) {
  .follow .long {
    display: none;
  }

  .follow .short {
    display: inline;
  }
}

@container close-up (width <= 480px) {
  .who,
  .says,
  .zoom {
    display: none;
  }

  .grid {
    width: 96px;
  }
}
</style>
