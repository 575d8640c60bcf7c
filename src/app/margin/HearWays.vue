<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
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

/** By the clock of what is delivered now; the bars are those of the way that was asked for first. */
let stretch: { readonly fromMs: number; readonly toMs: number } | null = null;
/** By how much later each way stands than what is delivered now. */
const shifts = new Map<string, number>();
/** What was there before anything was heard, to be put back. */
let before: { loop: typeof playing.loop; listen: typeof playing.listen; ms: number } | null = null;
let round = 0;

async function shiftOf(id: string): Promise<number | null> {
  if (id === SOURCE) return -(job.shown?.commonShiftMs ?? 0);
  if (id === NOW) return 0;
  const known = shifts.get(id);
  if (known !== undefined) return known;
  const way = props.ways.find((w) => w.id === id);
  const found = way && (await job.peek(way.steps));
  const shown = job.shown;
  if (!found || !shown) return null;
  const { piece, shiftMs } = found;
  shifts.set(id, shiftMs);
  if (!stretch) {
    const least = leastAlike(shown.source, piece, shown.commonShiftMs + shiftMs);
    const at = (bar: number) => piece.clock.msAt(piece.bars.barStart(bar)) - shiftMs;
    stretch = { fromMs: Math.max(0, at(least.from)), toMs: at(least.to) };
    bars.value = { from: least.from + 1, to: least.to };
  }
  return shiftMs;
}

async function hear(id: string) {
  const mine = ++round;
  busy.value = true;
  try {
    // Of the source alone there is no place where it differs: that of the first way is taken.
    if (!stretch && props.ways[0]) await shiftOf(props.ways[0].id);
    const shift = await shiftOf(id);
    if (mine !== round || shift === null || !stretch) return;
    before ??= { loop: playing.loop, listen: playing.listen, ms: playing.nowMs() };
    const into = heard.value !== null && playing.loop ? playing.nowMs() - playing.loop.fromMs : 0;
    heard.value = id;
    playing.listen = id === SOURCE ? 'source' : 'delivered';
    const way = props.ways.find((w) => w.id === id);
    playing.tried = way ? { ...NOTHING_TRIED, steps: [...way.steps] } : NOTHING_TRIED;
    const fromMs = Math.max(0, stretch.fromMs + shift);
    playing.setLoop({ fromMs, toMs: stretch.toMs + shift });
    playing.seek(fromMs + Math.max(0, into));
    if (!playing.playing) await playing.play();
  } finally {
    if (mine === round) busy.value = false;
  }
}

/** All is as it was: what was listened to, the loop, the place. */
function end() {
  round++;
  heard.value = null;
  busy.value = false;
  if (!before) return;
  const { loop, listen, ms } = before;
  before = null;
  playing.stop();
  playing.tried = NOTHING_TRIED;
  playing.listen = listen;
  playing.setLoop(loop);
  playing.seek(ms);
}
// Another plan has other places, and what was tried on the last one is not heard on it.
watch([() => job.shown, () => JSON.stringify(props.ways)], () => {
  end();
  stretch = null;
  bars.value = null;
  shifts.clear();
});
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
