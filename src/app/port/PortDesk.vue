<script setup lang="ts">
import { NButton, NCheckbox, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref } from 'vue';
import { LEAST_DELAY_MS, MOST_DELAY_MS, usePort } from '../stores/port';

/** A MIDI port to send the music to, and one to play from. */
const port = usePort();
const channel = ref(1);
const NONE = '';
const listOf = (ports: readonly { name: string }[], chosen: string | null, none: string) => [
  { label: none, value: NONE },
  ...ports.map((p) => ({ label: p.name, value: p.name })),
  // What was chosen and is unplugged stands there, so that it is seen.
  ...(chosen !== null && !ports.some((p) => p.name === chosen)
    ? [{ label: `${chosen} (unplugged)`, value: chosen }]
    : []),
];
const outs = computed(() => listOf(port.outputs, port.outName, 'Built-in sound'));
const ins = computed(() => listOf(port.inputs, port.inName, 'None'));
const orNull = (name: string) => (name === NONE ? null : name);
</script>

<template>
  <div class="port" tabindex="0">
    <p v-if="port.state === 'missing'" class="serif" role="status">
      This browser has no MIDI ports to offer (Web MIDI is not there). The built-in sound plays.
    </p>
    <template v-else-if="port.state === 'unasked' || port.state === 'asking'">
      <p class="soft">
        The music can go to a MIDI port as it plays, and a keyboard or pad can play the scenes and
        tap cues. The browser asks once whether that is allowed.
      </p>
      <NButton size="small" :loading="port.state === 'asking'" @click="port.ask()">
        Look for MIDI ports
      </NButton>
    </template>
    <template v-else-if="port.state === 'refused'">
      <p class="serif" role="alert">
        The browser did not allow MIDI ports ({{ port.why }}). The built-in sound plays; allow MIDI
        for this page and ask again.
      </p>
      <NButton size="small" @click="port.ask()">Ask again</NButton>
    </template>
    <template v-else>
      <label class="field">
        <span>Send to</span>
        <NSelect
          :value="port.outName ?? NONE"
          size="small"
          :options="outs"
          aria-label="MIDI port to send to"
          @update:value="port.outName = orNull($event)"
        />
      </label>
      <p v-if="port.outputs.length === 0" class="soft" role="status">
        No port to send to is plugged in; one that is plugged in now appears here.
      </p>
      <p v-if="port.gone" class="wax" role="alert">
        {{ port.outName }} is unplugged. The built-in sound plays until it is back.
      </p>
      <template v-if="port.output">
        <label class="field">
          <span>Delay, ms</span>
          <NInputNumber
            v-model:value="port.delayMs"
            size="small"
            :min="LEAST_DELAY_MS"
            :max="MOST_DELAY_MS"
            :step="5"
            :input-props="{ 'aria-label': 'Delay of the port in milliseconds' }"
          />
        </label>
        <p class="soft">Later, or earlier where negative, until screen and instrument agree.</p>
        <NCheckbox v-model:checked="port.builtInToo">Built-in sound as well</NCheckbox>
        <NCheckbox :checked="port.exclusives" @update:checked="port.allowExclusives">
          Send system exclusives
        </NCheckbox>
        <div class="row">
          <NInputNumber
            v-model:value="channel"
            class="channel"
            size="small"
            :min="1"
            :max="16"
            :input-props="{ 'aria-label': 'Channel of the test note' }"
          />
          <NButton size="small" @click="port.test(channel - 1)">Test note</NButton>
          <NButton size="small" @click="port.panic()">All notes off</NButton>
        </div>
      </template>
      <label class="field">
        <span>Play from</span>
        <NSelect
          :value="port.inName ?? NONE"
          size="small"
          :options="ins"
          aria-label="MIDI port to play from"
          @update:value="port.inName = orNull($event)"
        />
      </label>
      <p v-if="port.input" class="soft" data-testid="last-in">
        {{ port.lastIn === null ? 'Nothing came in yet.' : `Last came in: ${port.lastIn}` }}
      </p>
    </template>
  </div>
</template>

<style scoped>
.port {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
  min-height: 0;
  overflow: auto;
}

.field {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: 8px;
  align-items: center;
}

.row {
  display: flex;
  gap: 6px;
  align-items: center;
}

.channel {
  width: 84px;
}

.wax {
  color: var(--wax);
}
</style>
