<script setup lang="ts">
import { sayContent } from '../../core/wire/content';
import { Ear, Volume2, VolumeX } from '@lucide/vue';
import { computed } from 'vue';
import { noteName } from '../../core/target/words';
import type { PartView } from '../../core/wire/view';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import InkSwatch from './InkSwatch.vue';
import SourceMark from './SourceMark.vue';

const props = defineProps<{
  part: PartView;
  index: number;
  seat: string | null;
  needsSeat: boolean;
  range: { lowest?: number | undefined; highest?: number | undefined } | null;
}>();
const looking = useLooking();
const playing = usePlaying();
const alone = computed(() => playing.alone.has(props.part.id));
const muted = computed(() => playing.muted.has(props.part.id));

/** The part's range against the target's, both on the span of a keyboard of 88. */
const at = (key: number) => Math.max(0, Math.min(100, ((key - 21) / 87) * 100));
const bar = computed(() => ({
  left: `${at(props.part.lowest)}%`,
  width: `${Math.max(3, at(props.part.highest + 1) - at(props.part.lowest))}%`,
}));
const frame = computed(() => {
  const { lowest = 0, highest = 127 } = props.range ?? {};
  return { left: `${at(lowest)}%`, width: `${at(highest + 1) - at(lowest)}%` };
});
const outside = computed(
  () =>
    !props.part.leftOut &&
    props.range !== null &&
    (props.part.lowest < (props.range.lowest ?? 0) ||
      props.part.highest > (props.range.highest ?? 127)),
);
const says = computed(() => sayContent(props.part));
</script>

<template>
  <li
    class="card"
    :class="{ out: part.leftOut, here: looking.part === part.id }"
    :data-part="part.id"
  >
    <div class="top">
      <button
        class="name plain"
        type="button"
        :aria-pressed="looking.part === part.id"
        :title="`${part.name}: choose its notes`"
        @click="looking.choosePart(looking.part === part.id ? null : part.id)"
      >
        <InkSwatch :index="index" :faint="part.leftOut" />
        <span class="text">{{ part.name }}</span>
        <SourceMark :source="part.ref.source" />
      </button>
      <button
        class="icon"
        type="button"
        :aria-pressed="alone"
        :aria-label="`Hear ${part.name} alone`"
        title="Hear alone"
        @click="playing.toggleAlone(part.id)"
      >
        <Ear :size="15" />
      </button>
      <button
        class="icon"
        type="button"
        :aria-pressed="muted"
        :aria-label="`Mute ${part.name}`"
        title="Mute"
        @click="playing.toggleMute(part.id)"
      >
        <VolumeX v-if="muted" :size="15" />
        <Volume2 v-else :size="15" />
      </button>
    </div>
    <div
      v-if="!part.leftOut && part.columns.count > 0"
      class="range"
      :title="`${noteName(part.lowest)}–${noteName(part.highest)} (${part.lowest}–${part.highest})`"
    >
      <span class="bar" :class="{ outside }" :style="bar"></span>
      <span v-if="range" class="frame" :style="frame"></span>
    </div>
    <div class="facts-line soft" :class="{ long: part.columns.count === 0 }">
      <span
        >ch {{ part.channel
        }}<template v-if="part.program !== null && part.columns.count > 0">
          · pr {{ part.program + 1 }}</template
        >
        · {{ says }}</span
      >
      <span
        class="seat"
        :class="{ none: needsSeat && !part.leftOut && !seat && part.seat === null }"
        >{{ part.leftOut ? 'left out' : seat ? `→ ${seat}` : needsSeat ? 'no seat' : '' }}</span
      >
    </div>
  </li>
</template>

<style scoped>
.card {
  padding: 6px 6px 7px 9px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
  content-visibility: auto;
  contain-intrinsic-size: auto 66px;
}

.out {
  border-style: dashed;
  background: none;
}

.here {
  border-color: var(--quill);
  box-shadow: inset 3px 0 0 var(--quill);
}

.top {
  display: flex;
  align-items: center;
}

.name {
  display: flex;
  flex: 1;
  gap: 7px;
  align-items: center;
  min-width: 0;
  font-weight: 500;
  text-align: left;
}

.out .name {
  color: var(--ink-2);
  font-weight: 400;
}

.text {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.range {
  position: relative;
  height: 8px;
  margin: 3px 3px 5px 0;
  border-radius: 4px;
  background: var(--band);
}

.bar,
.frame {
  position: absolute;
  border-radius: 4px;
}

.bar {
  top: 2px;
  height: 4px;
  background: var(--ink-2);
}

.bar.outside {
  background: var(--wax);
}

.frame {
  top: 0;
  height: 8px;
  border: 1px solid var(--ink-2);
}

.facts-line {
  display: flex;
  gap: 6px;
  justify-content: space-between;
  padding-right: 3px;
  font-size: 12px;
  white-space: nowrap;
}

.long {
  flex-wrap: wrap;
  row-gap: 0;
  white-space: normal;
}

.seat {
  overflow: hidden;
  text-overflow: ellipsis;
}

.none {
  color: var(--wax);
}
</style>
