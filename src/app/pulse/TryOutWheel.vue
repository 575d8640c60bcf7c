<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { ChevronDown, ChevronUp } from '@lucide/vue';
import { useEventListener } from '@vueuse/core';
import { computed } from 'vue';
import InkSwatch from '../parts/InkSwatch.vue';
import { useJob } from '../stores/job';
import { useSeating } from '../stores/seating';
import { useWheel } from '../stores/wheel';

/** Candidates gone through while the music plays; the one that is heard stands large in the middle. */
const wheel = useWheel();
const seating = useSeating();
const job = useJob();
const options = computed(() => wheel.kinds.map((k) => ({ label: k.name, value: k.id })));
const near = (by: number) => {
  const n = wheel.candidates.length;
  return n > 1 ? wheel.candidates[(wheel.at + by + n) % n]!.name : '';
};

// Before the keys of the desk: while the wheel is open these are its own.
useEventListener(
  window,
  'keydown',
  (event: KeyboardEvent) => {
    if ((event.target as HTMLElement).closest('input, textarea, [role="listbox"]')) return;
    const acts: Record<string, () => void> = {
      PageUp: () => wheel.turn(-1),
      PageDown: () => wheel.turn(1),
      Enter: wheel.keep,
      Escape: wheel.stop,
    };
    const act = acts[event.key];
    if (!act) return;
    // A button of the wheel that has the focus is what Enter presses.
    if (event.key === 'Enter' && (event.target as HTMLElement).closest('button')) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  },
  { capture: true },
);
</script>

<template>
  <section v-if="wheel.part" class="wheel" aria-label="Try-out wheel">
    <span class="who">
      <template v-if="wheel.whole">The whole piece</template>
      <template v-else>
        <InkSwatch :index="seating.indexOf(wheel.part)" /> {{ wheel.part.name }}
      </template>
    </span>
    <NSelect
      v-model:value="wheel.kind"
      class="kind"
      size="small"
      :options="options"
      aria-label="What is tried out"
    />
    <button
      class="icon"
      type="button"
      aria-label="Candidate before"
      title="Candidate before (Page up)"
      @click="wheel.turn(-1)"
    >
      <ChevronUp :size="18" />
    </button>
    <div class="names">
      <span class="soft side" aria-hidden="true">{{ near(-1) }}</span>
      <strong aria-live="polite"
        >{{ wheel.now?.name ?? ''
        }}<span v-if="wheel.now?.says" class="says">: {{ wheel.now.says }}</span></strong
      >
      <span class="soft side" aria-hidden="true">{{ near(1) }}</span>
    </div>
    <button
      class="icon"
      type="button"
      aria-label="Next candidate"
      title="Next candidate (Page down)"
      @click="wheel.turn(1)"
    >
      <ChevronDown :size="18" />
    </button>
    <span class="soft n">{{ wheel.at + 1 }} of {{ wheel.candidates.length }}</span>
    <label class="switch" title="Go to the next candidate at each pass of the loop">
      <input
        :checked="wheel.byItself"
        type="checkbox"
        @change="wheel.byItself ? (wheel.byItself = false) : wheel.goThrough(wheel.kind)"
      />
      <span>by itself</span>
    </label>
    <label
      v-if="!wheel.whole && wheel.kind !== 'preset'"
      class="switch"
      title="Candidates sound as loud as it does now"
    >
      <input v-model="wheel.matched" type="checkbox" />
      <span>one level</span>
    </label>
    <NButton
      size="small"
      type="primary"
      :disabled="wheel.now?.calls === null || job.readOnly"
      title="Keep (Enter)"
      @click="wheel.keep()"
    >
      Keep
    </NButton>
    <NButton size="small" title="Back to what was (Esc)" @click="wheel.stop()">Back</NButton>
  </section>
</template>

<style scoped>
.wheel {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 7px 14px;
  border-top: 1px solid var(--ink-2);
  background: var(--page);
}

.who {
  display: flex;
  gap: 7px;
  align-items: center;
  max-width: 150px;
  overflow: hidden;
  font-weight: 500;
  white-space: nowrap;
}

.kind {
  flex: none;
  width: 118px;
}

.names {
  display: grid;
  flex: 1;
  min-width: 0;
  text-align: center;
}

.names > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.names strong {
  font: 600 19px/1.3 var(--serif);
}

.says {
  font: 400 13px/1.3 var(--sans);
}

.switch {
  display: flex;
  flex: none;
  gap: 5px;
  align-items: center;
  font-size: 12px;
}

.side {
  font-size: 12px;
}

.n {
  min-width: 62px;
  font-size: 12px;
  text-align: right;
}
</style>
