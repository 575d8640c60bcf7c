<script setup lang="ts">
import { NButton, NInput, NInputNumber, NSelect } from 'naive-ui';
import { computed, ref, watch } from 'vue';
import { mapTick } from '../../../core/time/time-map';
import { count } from '../../../core/target/words';
import type { PartView } from '../../../core/wire/view';
import InkSwatch from '../../parts/InkSwatch.vue';
import { useJob } from '../../stores/job';
import { useLanes, type Directed, type LaneWay } from '../../stores/lanes';
import { useLooking } from '../../stores/looking';
import { useSeating } from '../../stores/seating';
import LaneStrip from './LaneStrip.vue';
import { orderOf } from './lane-order';

/** How one part is laid on its lanes; a stretch of it may be laid by hand. */
const props = defineProps<{
  part: PartView;
  /** Its notes are drawn with those of its levels. */
  sideBySide: boolean;
}>();
const job = useJob();
const lanes = useLanes();
const looking = useLooking();
const seating = useSeating();

const WAYS: { label: string; value: LaneWay | 'written' }[] = [
  { label: 'As it is written', value: 'written' },
  { label: 'By its contour', value: 'contour' },
  { label: 'By its keys', value: 'keys' },
  { label: 'Shuffled', value: 'shuffle' },
];
const laying = computed(() => lanes.laying(props.part));
const params = computed(() => lanes.paramsOf(props.part));
const way = computed(() => (laying.value ? params.value.by : 'written'));
const seat = computed(() => lanes.seatOf(props.part));
function choose(to: LaneWay | 'written') {
  if (to === 'written') lanes.asWritten(props.part);
  else lanes.lay(props.part, { by: to }, WAYS.find((w) => w.value === to)!.label.toLowerCase());
}
const again = () =>
  lanes.lay(props.part, { seed: (params.value.seed ?? 1) + 1 }, 'another shuffle');

// --- a stretch by hand ----------------------------------------------------------------------------
const piece = computed(() => job.shown?.delivered ?? null);
const fromBar = ref<number | null>(1);
const toBar = ref<number | null>(4);
watch(
  () => looking.chosenSpan,
  (span) => {
    const p = looking.piece;
    if (!span || !p) return;
    fromBar.value = p.bars.barAt(span.fromTick) + 1;
    toBar.value = p.bars.barAt(Math.max(span.fromTick, span.toTick - 1)) + 1;
  },
  { immediate: true },
);
const byHand = ref(false);
const typed = ref('');
const read = computed(() => orderOf(typed.value, seat.value?.laneNotes.length ?? 0));
const ready = computed(
  () =>
    'order' in read.value &&
    fromBar.value !== null &&
    toBar.value !== null &&
    toBar.value >= fromBar.value,
);
function direct() {
  if (!('order' in read.value) || !ready.value) return;
  lanes.direct(props.part, fromBar.value!, toBar.value!, read.value.order);
  typed.value = '';
}
const barsOf = ({ fromTick, toTick }: Directed) => {
  const p = piece.value;
  if (!p) return '';
  const bar = (tick: number) => p.bars.barAt(mapTick(p.fromBase ?? undefined, tick)) + 1;
  const [from, to] = [bar(fromTick), bar(Math.max(fromTick, toTick - 1))];
  return from === to ? `bar ${from}` : `bars ${from}–${to}`;
};
</script>

<template>
  <section class="laid" :aria-label="`Lanes of ${part.name}`">
    <div class="row">
      <InkSwatch :index="seating.indexOf(part)" />
      <strong class="who">{{ part.name }}</strong>
      <NSelect
        class="way"
        size="small"
        :value="way"
        :options="WAYS"
        :disabled="job.readOnly"
        :aria-label="`How ${part.name} is laid`"
        @update:value="choose"
      />
      <NButton v-if="way === 'shuffle'" size="small" :disabled="job.readOnly" @click="again">
        Another shuffle
      </NButton>
    </div>
    <LaneStrip
      v-if="seat && !sideBySide"
      :parts="[{ name: part.name, part, laneNotes: seat.laneNotes }]"
    />
    <ul v-if="params.directed?.length" class="directed">
      <li v-for="d in params.directed" :key="d.fromTick">
        {{ barsOf(d) }}: <span class="figures">{{ d.order.join(' ') }}</span>
        <button
          class="link"
          type="button"
          :disabled="job.readOnly"
          :aria-label="`No longer by hand: ${barsOf(d)}`"
          @click="lanes.undirect(part, d)"
        >
          as the rest
        </button>
      </li>
    </ul>
    <button v-if="!byHand" class="link" type="button" @click="byHand = true">
      Lay some bars by hand…
    </button>
    <form v-else class="row" @submit.prevent="direct">
      <span class="soft">Bars</span>
      <NInputNumber
        v-model:value="fromBar"
        class="bar"
        size="small"
        :min="1"
        :show-button="false"
        :input-props="{ 'aria-label': `First bar by hand, ${part.name}` }"
      />
      <span class="soft">to</span>
      <NInputNumber
        v-model:value="toBar"
        class="bar"
        size="small"
        :min="1"
        :show-button="false"
        :input-props="{ 'aria-label': `Last bar by hand, ${part.name}` }"
      />
      <NInput
        v-model:value="typed"
        class="order"
        size="small"
        placeholder="lanes: 1 2 3 2"
        :input-props="{ 'aria-label': `Lanes in their order, ${part.name}` }"
      />
      <NButton size="small" attr-type="submit" :disabled="!ready || job.readOnly">
        Lay by hand
      </NButton>
    </form>
    <p v-if="'wrong' in read && typed !== ''" class="wrong">{{ read.wrong }}</p>
    <p v-else-if="byHand && typed === ''" class="soft small">
      Sweep bars on the sheet and write lanes from 1 to {{ seat?.laneNotes.length }}, note for note;
      they go round. The rest of the {{ count(part.columns.count, 'note') }} stays as it is laid.
    </p>
  </section>
</template>

<style scoped>
.laid {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.who {
  flex: 1;
  min-width: 70px;
}

.way {
  width: 150px;
}

.bar {
  width: 54px;
}

.order {
  flex: 1;
  min-width: 110px;
}

.directed {
  margin: 0;
  padding: 0;
  font-size: 12px;
  list-style: none;
}

.figures {
  font-variant-numeric: tabular-nums;
}

.small,
.wrong {
  font-size: 12px;
}

.wrong {
  color: var(--wax);
}
</style>
