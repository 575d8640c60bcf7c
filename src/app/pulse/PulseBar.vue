<script setup lang="ts">
import { NSelect } from 'naive-ui';
import { Disc3, Library, Play, Repeat, Square, Volume2 } from '@lucide/vue';
import { computed, ref } from 'vue';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import { useSettings } from '../stores/settings';
import { useWheel } from '../stores/wheel';
import SoundBank from './SoundBank.vue';
import OverviewStrip from './OverviewStrip.vue';

const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const settings = useSettings();
const wheel = useWheel();
const sounds = ref(false);
const place = computed(() =>
  looking.piece ? sayPlace(looking.piece.bars.placeAt(playing.shownTick)) : '1.1',
);
const speeds = [25, 50, 75, 90, 100, 110, 125, 150, 200].map((n) => ({
  label: `${n} %`,
  value: n,
}));
const turn = () => (playing.playing ? playing.stop() : void playing.play());
</script>

<template>
  <section class="pulse" aria-label="Pulse">
    <button
      class="play"
      type="button"
      :disabled="!job.shown || playing.starting"
      :aria-label="playing.playing ? 'Stop' : 'Play'"
      :title="playing.playing ? 'Stop (Space)' : 'Play (Space)'"
      @click="turn"
    >
      <Square v-if="playing.playing" :size="16" fill="currentColor" />
      <Play v-else :size="18" fill="currentColor" />
    </button>
    <div class="place">
      <strong data-testid="place">{{ place }}</strong>
      <span class="soft" data-testid="clock">{{ sayClock(playing.ms) }}</span>
    </div>
    <OverviewStrip class="strip" />
    <NSelect
      v-model:value="playing.speed"
      class="speed"
      size="small"
      :options="speeds"
      aria-label="Speed; the pitch stays"
      title="Speed; the pitch stays"
    />
    <button
      class="icon"
      type="button"
      :aria-pressed="playing.loop !== null"
      aria-label="Loop these bars"
      title="Loop the bars of what is chosen or in view, or four from here (R)"
      @click="playing.loopHere()"
    >
      <Repeat :size="17" />
    </button>
    <button
      class="icon"
      type="button"
      :aria-pressed="wheel.open"
      aria-label="Try-out wheel"
      title="Try out sounds, octaves and seats for the chosen part (Q)"
      @click="wheel.toggle()"
    >
      <Disc3 :size="17" />
    </button>
    <div class="listen" role="group" aria-label="Listen to">
      <button
        type="button"
        :aria-pressed="playing.listen === 'source'"
        @click="playing.listen = 'source'"
      >
        Source
      </button>
      <button
        type="button"
        :aria-pressed="playing.listen === 'delivered'"
        @click="playing.listen = 'delivered'"
      >
        As delivered
      </button>
    </div>
    <button
      class="icon"
      type="button"
      aria-label="Sounds"
      :title="`Sounds: ${playing.banks.wanted.value ?? 'those that ship'}`"
      @click="sounds = true"
    >
      <Library :size="17" />
    </button>
    <SoundBank v-if="sounds" @close="sounds = false" />
    <label class="volume">
      <Volume2 :size="16" aria-hidden="true" />
      <input v-model.number="settings.volume" type="range" min="0" max="100" aria-label="Volume" />
    </label>
  </section>
</template>

<style scoped>
.pulse {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 0 14px;
  border-top: 1px solid var(--line);
  background: var(--band);
}

.play {
  display: grid;
  flex: none;
  place-items: center;
  width: 40px;
  height: 40px;
  border: 0;
  border-radius: 6px;
  background: var(--quill);
  color: var(--on-quill);
  cursor: pointer;
}

.play:disabled {
  opacity: 0.5;
}

.place {
  display: grid;
  flex: none;
  width: 88px;
}

.place strong {
  font-size: 17px;
  font-weight: 600;
  line-height: 1.2;
}

.strip {
  flex: 1;
  min-width: 120px;
}

.speed {
  flex: none;
  width: 84px;
}

.listen {
  display: flex;
  flex: none;
  border: 1px solid var(--line);
  border-radius: 5px;
  overflow: hidden;
}

.listen button {
  padding: 5px 9px;
  border: 0;
  background: var(--page);
  color: var(--ink);
  white-space: nowrap;
  cursor: pointer;
}

.listen button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}

.listen button:focus-visible {
  outline-offset: -3px;
}

.volume {
  display: flex;
  flex: none;
  gap: 8px;
  align-items: center;
  width: 104px;
}

.volume input {
  width: 80px;
  accent-color: var(--quill);
}

@media (width <= 1100px) {
  .volume {
    gap: 2px;
    width: 74px;
  }

  .volume input {
    width: 54px;
  }
}

/* In a narrow window the pulse takes a second row rather than to lose what is at its end. */
@media (width <= 860px) {
  .pulse {
    flex-wrap: wrap;
    gap: 6px 10px;
    padding: 8px 14px;
  }

  .strip {
    flex-basis: 200px;
  }
}
</style>
