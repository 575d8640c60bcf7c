<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed } from 'vue';
import { count } from '../../core/target/words';
import { useHandsOn } from '../stores/hands-on';
import { useJob } from '../stores/job';
import { StampHands } from './hands/stamps';
import { BANDS_MS, StrikeHands } from './hands/strikes';
import ErrorHistogram from './ErrorHistogram.vue';

/** What the hands do at the device: who does what, how it goes, which key does it. */
const handsOn = useHandsOn();
const job = useJob();
const strikes = computed(() => handsOn.hands instanceof StrikeHands);
const stamps = computed(() => handsOn.hands instanceof StampHands);
const choices = computed(() => handsOn.choices.map((c) => ({ label: c.says, value: c.id })));
const sections = computed(() => {
  const piece = job.shown?.delivered;
  return (piece?.markers ?? []).map((m) => ({ says: m.text, ms: piece!.clock.msAt(m.tick) }));
});
const recorded = computed(() => {
  const { stamps, turns } = handsOn.recorded;
  if (stamps + turns === 0) return null;
  return [
    stamps > 0 ? count(stamps, 'stamp') : '',
    turns > 0 ? count(turns, 'turn of the dial', 'turns of the dial') : '',
  ]
    .filter(Boolean)
    .join(', ');
});
const within = computed(() =>
  BANDS_MS.map((ms) => ({
    ms,
    count: handsOn.tally.errorsMs.filter((e) => Math.abs(e) <= ms).length,
  })),
);
</script>

<template>
  <div class="hands" tabindex="0">
    <div class="row">
      <NSelect
        v-if="choices.length > 1"
        :value="handsOn.choice ?? choices[0]?.value"
        size="small"
        :options="choices"
        :consistent-menu-width="false"
        aria-label="What is taken in hand"
        @update:value="handsOn.choose"
      />
      <NButton
        size="small"
        :type="handsOn.on ? 'default' : 'primary'"
        @click="handsOn.on ? handsOn.leave() : void handsOn.take()"
      >
        {{ handsOn.on ? 'Give the keys back (Esc)' : 'Hands on' }}
      </NButton>
    </div>
    <p v-if="!handsOn.on" class="soft">
      {{ handsOn.takes?.says }} While it is in hand the keys are the device’s; Esc gives them back.
    </p>
    <div v-if="recorded" class="row" data-testid="recorded">
      <span>{{ recorded }}, not in the plan yet.</span>
      <NButton size="small" type="primary" :disabled="job.readOnly" @click="handsOn.keepRecorded">
        Into the plan
      </NButton>
      <NButton size="small" @click="handsOn.dropRecorded">Let go</NButton>
    </div>
    <template v-if="handsOn.on">
      <p v-if="!strikes" class="serif" data-testid="hands-say">{{ handsOn.says }}</p>
      <p v-if="stamps" class="soft">
        Enter starts and stops the music, Backspace goes back. The studs and the dial can be taken
        with the pointer too, and with the controllers of a MIDI input.
      </p>
      <template v-if="strikes">
        <ErrorHistogram :errors-ms="handsOn.tally.errorsMs" />
        <dl class="sums">
          <template v-for="w in within" :key="w.ms">
            <dt>within {{ w.ms }} ms</dt>
            <dd :data-within="w.ms">{{ w.count }}</dd>
          </template>
          <dt>missed</dt>
          <dd data-testid="missed">{{ handsOn.tally.missed }}</dd>
          <dt>beside</dt>
          <dd data-testid="beside">{{ handsOn.tally.beside }}</dd>
          <dt>holds let go early</dt>
          <dd data-testid="let-go">
            {{ handsOn.tally.letGoMs.length }}
            <span v-if="handsOn.tally.letGoMs.length > 0" class="soft">
              by up to {{ Math.round(Math.max(...handsOn.tally.letGoMs.slice(-500))) }} ms
            </span>
          </dd>
        </dl>
        <p class="soft">
          Enter starts and stops the music, Backspace goes back. The delay of the sound device is
          not known to the browser and stands in these figures.
        </p>
        <div v-if="sections.length > 0" class="row">
          <NButton
            v-for="(s, i) in sections.slice(0, 24)"
            :key="i"
            size="tiny"
            @click="handsOn.startAt(s.ms)"
          >
            {{ s.says }}
          </NButton>
        </div>
      </template>
      <table class="keys">
        <tbody>
          <tr v-for="d in handsOn.hands?.doings" :key="d.id">
            <td>{{ d.says }}</td>
            <td>
              <button
                class="key"
                type="button"
                :aria-pressed="handsOn.assigning === d.id"
                :class="{ down: handsOn.held.has(d.id) }"
                :aria-label="`Key for ${d.says}: ${handsOn.keyOf(d)}`"
                @click="handsOn.assigning = handsOn.assigning === d.id ? null : d.id"
              >
                {{ handsOn.assigning === d.id ? 'press a key…' : handsOn.keyOf(d) }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="row">
        <span class="soft"
          >{{ count(handsOn.hands?.doings.length ?? 0, 'key') }}; a pad’s button or a key of the
          MIDI input can be pressed as well.</span
        >
        <NButton size="tiny" @click="handsOn.asShipped()">Keys as they ship</NButton>
      </p>
    </template>
  </div>
</template>

<style scoped>
.hands {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
  min-height: 0;
  overflow: auto;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.sums {
  display: grid;
  grid-template-columns: auto auto;
  gap: 2px 12px;
  margin: 0;
}

.sums dd {
  margin: 0;
  font-variant-numeric: tabular-nums;
  text-align: right;
}

.keys {
  width: 100%;
  border-collapse: collapse;
}

.keys td {
  padding: 2px 0;
  border-bottom: 1px solid var(--line);
}

.keys td:last-child {
  text-align: right;
}

.key {
  min-width: 44px;
  min-height: 24px;
  padding: 2px 8px;
  border: 1px solid var(--edge);
  border-radius: 4px;
  background: var(--page);
  color: var(--ink);
  font-weight: 600;
  cursor: pointer;
}

.key.down {
  background: var(--gold);
  color: var(--spine);
}

.key[aria-pressed='true'] {
  border-color: var(--quill);
  color: var(--quill);
}
</style>
