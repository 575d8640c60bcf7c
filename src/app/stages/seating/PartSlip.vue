<script setup lang="ts">
import { computed } from 'vue';
import { sayContent } from '../../../core/wire/content';
import type { PartView } from '../../../core/wire/view';
import InkSwatch from '../../parts/InkSwatch.vue';
import SourceMark from '../../parts/SourceMark.vue';
import { useSeating } from '../../stores/seating';

/** A part as a slip of paper: chosen by a click, several with Ctrl, dragged to a seat. */
const props = defineProps<{ part: PartView }>();
const seating = useSeating();
const index = computed(() => seating.indexOf(props.part));
const says = computed(() => sayContent(props.part));
const picked = computed(() => seating.picked.has(props.part.id));
</script>

<template>
  <li class="slip" :class="{ picked, faint: part.leftOut }" :data-part="part.id">
    <button
      class="plain"
      type="button"
      :aria-pressed="picked"
      :title="`${part.name}, ${part.columns.count > 0 ? `${says} notes` : says}: drag it to a seat`"
      @click="seating.pick(part.id, $event.ctrlKey || $event.metaKey || $event.shiftKey)"
    >
      <InkSwatch :index="index" :faint="part.leftOut" />
      <span class="name">{{ part.name }}</span>
      <SourceMark :source="part.ref.source" />
      <span class="soft">{{ says }}</span>
    </button>
  </li>
</template>

<style scoped>
.slip {
  max-width: 100%;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--page);
  box-shadow: 1px 1px 0 var(--line);
  cursor: grab;
  touch-action: none;
}

.picked {
  border-color: var(--quill);
  background: var(--quill-wash);
}

.faint {
  border-style: dashed;
  box-shadow: none;
}

.plain {
  display: flex;
  gap: 6px;
  align-items: center;
  max-width: 100%;
  min-height: 24px;
  padding: 1px 7px;
  cursor: inherit;
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.soft {
  font-size: 12px;
}
</style>
