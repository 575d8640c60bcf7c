<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, onBeforeUnmount, ref } from 'vue';
import type { StepCall } from '../../core/steps/call';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { NOTHING_TRIED } from '../stores/tried';
import { leastAlike } from '../stores/where-differ';

/**
 * The source and several ways beside each other, switched in place while they play: eight bars, where
 * the way that was asked for sounds least like the source.
 */
const props = defineProps<{
  label: string;
  ways: readonly { id: string; title: string; steps: readonly StepCall[] }[];
}>();
const job = useJob();
const playing = usePlaying();

const SOURCE = 'source';
const NOW = 'now';
const choices = computed(() => [
  { id: SOURCE, title: 'Source' },
  { id: NOW, title: 'As it is' },
  ...props.ways,
]);
const heard = ref<string | null>(null);
const bars = ref<{ from: number; to: number } | null>(null);
const busy = ref(false);

/** A stretch by the clock of what is delivered now, and how much later each way stands. */
interface Stretch {
  readonly fromMs: number;
  readonly toMs: number;
}
let stretch: Stretch | null = null;
let widest: string | null = null;
const shifts = new Map<string, number>();
let round = 0;

async function shiftOf(id: string): Promise<number | null> {
  if (id === SOURCE) return -(job.shown?.commonShiftMs ?? 0);
  if (id === NOW) return 0;
  const known = shifts.get(id);
  if (known !== undefined && widest !== null) return known;
  const way = props.ways.find((w) => w.id === id);
  const found = way && (await job.peek(way.steps));
  const shown = job.shown;
  if (!found || !shown) return null;
  shifts.set(id, found.shiftMs);
  if (widest === null) {
    const { piece, shiftMs } = found;
    const least = leastAlike(shown.source, piece, shown.commonShiftMs + shiftMs);
    const at = (bar: number) => piece.clock.msAt(piece.bars.barStart(bar)) - shiftMs;
    stretch = { fromMs: Math.max(0, at(least.from)), toMs: at(least.to) };
    bars.value = { from: least.from + 1, to: least.to };
    widest = id;
  }
  return found.shiftMs;
}

async function hear(id: string) {
  const mine = ++round;
  busy.value = true;
  // The stretch is that of the first way that is heard, or of the first there is.
  if (widest === null && (id === SOURCE || id === NOW) && props.ways[0])
    await shiftOf(props.ways[0].id);
  const shift = await shiftOf(id);
  busy.value = false;
  if (mine !== round || shift === null || !stretch) return;
  const into = playing.playing && playing.loop ? playing.nowMs() - playing.loop.fromMs : 0;
  heard.value = id;
  playing.listen = id === SOURCE ? 'source' : 'delivered';
  const way = props.ways.find((w) => w.id === id);
  playing.tried = way ? { ...NOTHING_TRIED, steps: [...way.steps] } : NOTHING_TRIED;
  const fromMs = Math.max(0, stretch.fromMs + shift);
  playing.setLoop({ fromMs, toMs: stretch.toMs + shift });
  playing.seek(fromMs + Math.max(0, into));
  if (!playing.playing) await playing.play();
}

function end() {
  round++;
  if (heard.value === null) return;
  heard.value = null;
  playing.stop();
  playing.setLoop(null);
  playing.tried = NOTHING_TRIED;
  playing.listen = 'delivered';
}
onBeforeUnmount(end);
</script>

<template>
  <div v-if="ways.length > 0" class="hear-ways">
    <div class="row" role="group" :aria-label="label">
      <NButton
        v-for="c in choices"
        :key="c.id"
        size="tiny"
        :type="heard === c.id ? 'primary' : 'default'"
        :aria-pressed="heard === c.id"
        @click="hear(c.id)"
      >
        {{ c.title }}
      </NButton>
      <button v-if="heard !== null" class="link small" type="button" @click="end">Stop</button>
    </div>
    <p class="soft small" aria-live="polite">
      <template v-if="busy">Being worked out…</template>
      <template v-else-if="bars">
        Bars {{ bars.from }}–{{ bars.to }}, where it differs most from the source; switched while it
        plays.
      </template>
      <template v-else>Heard in the eight bars in which it differs most from the source.</template>
    </p>
  </div>
</template>

<style scoped>
.small {
  margin: 3px 0 0;
  font-size: 12px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}
</style>
