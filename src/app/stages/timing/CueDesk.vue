<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { NButton, NInput, NInputNumber, NSelect } from 'naive-ui';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { count, plain } from '../../../core/target/words';
import { sayClock, sayPlace } from '../../../core/time/meter-map';
import { useCues } from '../../stores/cues';
import { useHand } from '../../stores/hand';
import { useJob } from '../../stores/job';
import { usePort } from '../../stores/port';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
import { useSettings } from '../../stores/settings';
import HandDelay from './HandDelay.vue';

/** Tap and nudge: heard from a little before, moved a little, heard again; then the next. */
const job = useJob();
const cues = useCues();
const hand = useHand();
const playing = usePlaying();
const recording = useRecording();
const settings = useSettings();
const box = ref<HTMLElement>();
const ROW_PX = 25;

const virtual = useVirtualizer(
  computed(() => ({
    count: cues.cues.length,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => ROW_PX,
    overscan: 10,
  })),
);
watch(
  () => cues.index,
  (at) => {
    if (at >= 0) virtual.value.scrollToIndex(at, { align: 'auto' });
  },
);

const place = (tick: number) => (job.shown ? sayPlace(job.shown.delivered.bars.placeAt(tick)) : '');
const signed = (ms: number | null) =>
  ms === null ? '' : `${ms < 0 ? '−' : '+'}${Math.abs(Math.round(ms))}`;

/** Keys of the list: two fingers, and never the mouse. */
function press(event: KeyboardEvent) {
  const { key, ctrlKey, metaKey, altKey } = event;
  if (ctrlKey || metaKey || altKey) return;
  const does: Record<string, () => void> = {
    ArrowDown: () => cues.walk(1),
    ArrowUp: () => cues.walk(-1),
    PageDown: () => cues.walk(10),
    PageUp: () => cues.walk(-10),
    Home: () => cues.choose(0),
    End: () => cues.choose(cues.cues.length - 1),
    Enter: () => void cues.hear(),
    Escape: () => cues.stop(),
    ',': () => cues.nudge(-1, false),
    '.': () => cues.nudge(1, false),
    '<': () => cues.nudge(-1, true),
    ';': () => cues.nudge(-1, true),
    '>': () => cues.nudge(1, true),
    ':': () => cues.nudge(1, true),
    t: () => cues.tap(),
    o: () => cues.toOnset(),
  };
  const action = does[key.length === 1 ? key.toLowerCase() : key];
  // A key held down moves and nudges; it does not tap.
  if (!action || (event.repeat && (key === 't' || key === 'o' || key === 'Enter'))) return;
  event.preventDefault();
  event.stopPropagation();
  action();
}

/** A key or pad of the MIDI input taps as T does. */
const port = usePort();
const off = port.onInput(({ bytes }) => {
  if ((bytes[0]! & 0xf0) === 0x90 && (bytes[2] ?? 0) > 0) cues.tap();
});
onBeforeUnmount(off);

onMounted(() => {
  hand.beginSitting();
  if (cues.index < 0 && cues.cues.length > 0) cues.choose(0, { quietly: true });
});
onBeforeUnmount(() => {
  if (cues.round) cues.stop();
  void hand.flush();
});

const units = computed(() => [
  { label: '10 ms', value: 'ms' },
  { label: `1 frame (${plain(cues.frameRate)} a second)`, value: 'frame' },
  { label: 'a sixteenth', value: 'grid' },
]);
const parts = computed(() =>
  cues.parts.map((p) => ({ label: `${p.name} (${p.columns.count})`, value: p.id })),
);
const moved = computed(() => cues.cues.filter((c) => Math.abs(c.moved ?? 0) >= 0.5));
const labels = computed({
  get: () => cues.labels.join('\n'),
  set: (text: string) => (cues.labels = text.split('\n').filter((l) => l.trim() !== '')),
});
</script>

<template>
  <div class="cues">
    <div class="row">
      <NSelect
        size="small"
        :value="cues.part?.id ?? null"
        :options="parts"
        aria-label="Cues of which part"
        @update:value="(id: string) => (cues.partId = id)"
      />
      <NSelect
        v-model:value="cues.unit"
        class="unit"
        size="small"
        :options="units"
        aria-label="Small step"
      />
    </div>
    <p class="soft small">
      <kbd>↓</kbd> next, <kbd>Enter</kbd> hear it from {{ plain(settings.preRoll) }} s before, round
      and round, <kbd>,</kbd> <kbd>.</kbd> a step, with Shift a large one, <kbd>T</kbd>
      {{ cues.tapIn ? 'lays a cue' : 'sets it to now' }}, <kbd>O</kbd> onto the nearest onset,
      <kbd>Esc</kbd> ends it.
    </p>
    <div
      ref="box"
      class="list"
      tabindex="0"
      role="listbox"
      aria-label="Cues"
      :aria-activedescendant="cues.chosen ? `cue-${cues.chosen.id}` : undefined"
      @keydown="press"
    >
      <div class="all" :style="{ height: `${virtual.getTotalSize()}px` }">
        <div
          v-for="v in virtual.getVirtualItems()"
          :id="`cue-${cues.cues[v.index]!.id}`"
          :key="v.index"
          class="cue"
          role="option"
          :aria-selected="v.index === cues.index"
          :class="{ here: v.index === cues.index }"
          :style="{ transform: `translateY(${v.start}px)` }"
          @click="cues.choose(v.index)"
          @dblclick="cues.hear()"
        >
          <span class="soft n">{{ v.index + 1 }}</span>
          <span class="place">{{ place(cues.cues[v.index]!.tick) }}</span>
          <span class="label" :title="cues.cues[v.index]!.label">
            {{ cues.cues[v.index]!.label || cues.cues[v.index]!.keys }}
          </span>
          <span>{{ sayClock(cues.cues[v.index]!.ms) }}</span>
          <span class="ms soft" title="Later than the cue: the nearest beginning in the recording">
            {{ signed(cues.cues[v.index]!.onset) }}
          </span>
          <span class="ms" :class="{ moved: Math.abs(cues.cues[v.index]!.moved ?? 0) >= 0.5 }">
            {{
              Math.abs(cues.cues[v.index]!.moved ?? 0) < 0.5
                ? ''
                : signed(cues.cues[v.index]!.moved)
            }}
          </span>
        </div>
      </div>
    </div>
    <p class="soft small">
      {{ count(cues.cues.length, 'cue') }}; columns at the right: the nearest onset{{
        recording.listened ? '' : ' (no recording yet)'
      }}, and what it was moved by, both in ms.
      <span data-testid="cues-moved">{{
        moved.length > 0 ? `${count(moved.length, 'cue')} moved.` : ''
      }}</span>
    </p>
    <div class="row">
      <NButton size="small" @click="cues.round && playing.playing ? cues.stop() : cues.hear()">
        {{ cues.round && playing.playing ? 'Stop' : 'Hear the cue' }}
      </NButton>
      <label class="inline">
        from
        <NInputNumber
          v-model:value="settings.preRoll"
          size="tiny"
          :min="0"
          :max="20"
          :step="0.5"
          :show-button="false"
          :input-props="{ 'aria-label': 'Seconds heard before a cue' }"
        >
          <template #suffix>s</template>
        </NInputNumber>
        before
      </label>
    </div>
    <div class="row">
      <HandDelay />
      <label class="inline" title="The whole part is earlier by as much: captions before the word">
        Lead
        <NInputNumber
          size="tiny"
          :value="cues.leadMs"
          :min="-5000"
          :max="5000"
          :show-button="false"
          :disabled="job.readOnly"
          :input-props="{ 'aria-label': 'Lead of the part in milliseconds' }"
          :update-value-on-input="false"
          @update:value="(ms: number | null) => cues.lead(ms ?? 0)"
        >
          <template #suffix>ms</template>
        </NInputNumber>
      </label>
    </div>
    <label class="inline">
      <input v-model="cues.tapIn" type="checkbox" :disabled="job.readOnly" />
      Tap in: each <kbd>T</kbd> lays the next cue while it plays
    </label>
    <NInput
      v-if="cues.tapIn"
      v-model:value="labels"
      type="textarea"
      size="small"
      :autosize="{ minRows: 2, maxRows: 5 }"
      placeholder="Labels, one a line; each cue takes the next"
      :input-props="{ 'aria-label': 'Labels of cues that are tapped in' }"
    />
  </div>
</template>

<style scoped>
.cues {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.small {
  font-size: 12px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.row :deep(.n-select) {
  flex: 1;
  min-width: 120px;
}

.inline {
  display: flex;
  gap: 6px;
  align-items: center;
}

.inline :deep(.n-input-number) {
  width: 76px;
}

kbd {
  padding: 0 4px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--page);
  font: 12px var(--sans);
}

.list {
  height: clamp(200px, 50vh, 900px);
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.all {
  position: relative;
}

.cue {
  position: absolute;
  top: 0;
  right: 0;
  left: 0;
  display: grid;
  grid-template-columns: 30px 62px 1fr 66px 44px 44px;
  gap: 6px;
  align-items: center;
  height: 25px;
  padding: 0 8px 0 6px;
  white-space: nowrap;
  cursor: default;
}

.cue.here {
  background: var(--quill-wash);
  box-shadow: inset 3px 0 0 var(--quill);
}

.n,
.ms {
  text-align: right;
}

.label {
  overflow: hidden;
  text-overflow: ellipsis;
}

.moved {
  color: var(--lamp);
  font-weight: 600;
}
</style>
