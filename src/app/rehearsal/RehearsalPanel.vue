<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { NButton, NInput } from 'naive-ui';
import { Check, Trash2 } from '@lucide/vue';
import { bisector } from 'd3-array';
import { tinykeys } from 'tinykeys';
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import type { Happening } from '../../core/standin/played';
import { count, noteName, plain } from '../../core/target/words';
import { bpmOf } from '../../core/time/tempo-map';
import { sayClock, sayPlace } from '../../core/time/meter-map';
import { bindings } from '../keys/keys';
import TabRow from '../kit/TabRow.vue';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useHandsOn } from '../stores/hands-on';
import { usePlaying } from '../stores/playing';
import { useRehearsal } from '../stores/rehearsal';
import PortDesk from '../port/PortDesk.vue';
import HandsPanel from './HandsPanel.vue';
import ReceiveDesk from './ReceiveDesk.vue';
import { seatNamed } from './seats';

/** What the device did, in order; what it dropped and refused; what was heard while it was tried. */
const job = useJob();
const looking = useLooking();
const playing = usePlaying();
const rehearsal = useRehearsal();
const handsOn = useHandsOn();
const router = useRouter();

let off = () => {};
onMounted(() => {
  rehearsal.open = true;
  off = tinykeys(window, bindings({ seat: () => void handsOn.take() }));
});
onBeforeUnmount(() => {
  off();
  rehearsal.open = false;
});

type Tab = 'log' | 'lost' | 'heard' | 'hands' | 'port';
const tab = ref<Tab>('log');
const played = computed(() => rehearsal.reply?.played ?? null);
const rehearsed = computed(() => rehearsal.reply?.rehearsal ?? null);
const events = computed(() => played.value?.events ?? []);
const lostCount = computed(
  () => (played.value?.dropped.length ?? 0) + (played.value?.refused.length ?? 0),
);
const counted = (n: number) => (n === 0 ? {} : { count: n });
const tabs = computed(() => [
  { id: 'log' as const, name: 'Log' },
  { id: 'lost' as const, name: 'Dropped', ...counted(lostCount.value) },
  { id: 'heard' as const, name: 'Heard', ...counted(rehearsal.notes.length) },
  ...(handsOn.takes ? [{ id: 'hands' as const, name: 'Hands' }] : []),
  { id: 'port' as const, name: 'Port' },
]);
watch(
  () => handsOn.on,
  (on) => {
    if (on) tab.value = 'hands';
  },
);
watch(
  () => handsOn.takes,
  (takes) => {
    if (!takes && tab.value === 'hands') tab.value = 'log';
  },
);
/** Delivered as sound as well: its far end can be heard. */
const linked = computed(() => job.target?.outputs.some((o) => o.writer === 'sound-link') ?? false);

/** Where nothing was loaded the log has nothing to say. */
watch(played, (now) => {
  if (now && now.events.length === 0 && now.refused.length > 0) tab.value = 'lost';
});

const box = ref<HTMLElement>();
const ROW_PX = 24;
const virtual = useVirtualizer(
  computed(() => ({
    count: events.value.length,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => ROW_PX,
    overscan: 12,
  })),
);
const right = bisector((e: Happening) => e.atUs).right;
const now = computed(() => right(events.value, rehearsal.us) - 1);
watch(now, (at) => {
  if (tab.value === 'log' && at >= 0) virtual.value.scrollToIndex(at, { align: 'center' });
});

function says(e: Happening): string {
  const seat = job.target ? seatNamed(job.target, e.seat) : e.seat;
  if (e.kind === 'tempo') return `tempo ${plain(bpmOf(Number(e.value)))} BPM`;
  if (e.kind === 'marker') return `marker “${e.text}”`;
  if (e.kind === 'caption') return `caption “${(e.text ?? '').replace('\n', ' / ')}”`;
  if (e.kind === 'pattern') return `pattern ${e.text}`;
  if (e.kind === 'preset') return `preset ${e.text || `${e.value}.${e.key}`}`;
  if (e.kind === 'level') return sayLevel(e);
  if (e.kind === 'strike') return `${seat}, lane ${e.key}`;
  if (e.kind === 'cue-value')
    return e.value === null || e.value === undefined ? seat : `${seat}: ${e.value}`;
  return `${seat}, ${noteName(e.key)}`;
}
/** A value by the name that the target has for it; a switch as on or off. */
function sayLevel({ key, value }: Happening): string {
  const block = job.target?.curves?.list.find((b) =>
    key > 127 ? b.bend : b.controllers?.includes(key),
  );
  const number = (block?.controllers?.length ?? 0) > 1 || !block ? ` ${key}` : '';
  const is = block?.values?.length === 2 ? (Number(value) >= 64 ? 'on' : 'off') : `at ${value}`;
  return `${block?.name ?? 'controller'}${number} ${is}`;
}
const held = (e: Happening) => (e.lengthUs ? `${plain(Math.round(e.lengthUs / 1000))} ms` : '');

const lost = computed(() => {
  const groups = new Map<
    string,
    { because: string; how: string; count: number; firstUs: number }
  >();
  for (const d of played.value?.dropped ?? []) {
    const key = `${d.because} ${d.how}`;
    const there = groups.get(key);
    if (there) there.count++;
    else groups.set(key, { because: d.because, how: d.how, count: 1, firstUs: d.atUs });
  }
  return [...groups.values()].map((g) => ({
    ...g,
    findings: rehearsal
      .findingsOf({ because: g.because, how: g.how as 'silent' })
      .flatMap((key) => job.findings.find((f) => f.key === key) ?? []),
  }));
});
function lookAt(key: string) {
  void router.push(`/job/${job.record?.id}/proof`);
  looking.lookAt(key);
}

/** What is lost of a target that listens to no notes is an event. */
const what = computed(() => (job.target?.notes?.none ? 'event' : 'note'));
const text = ref('');
const field = ref<InstanceType<typeof NInput>>();
watch(
  () => rehearsal.jotting,
  async () => {
    tab.value = 'heard';
    await nextTick();
    field.value?.focus();
  },
);
async function jot() {
  await rehearsal.jot(text.value, playing.nowMs());
  text.value = '';
}
const place = (tick: number) => (job.shown ? sayPlace(job.shown.delivered.bars.placeAt(tick)) : '');
function go(ms: number, tick: number) {
  rehearsal.go(ms * 1000);
  looking.bring(tick);
}
</script>

<template>
  <section class="panel" tabindex="0" aria-label="Rehearsal">
    <p v-if="rehearsed" class="verdict serif" data-testid="rehearsal-verdict">
      <template v-if="rehearsed.standIn === null">
        No stand-in is there for this target: what it would play is not known.
      </template>
      <template v-else-if="rehearsed.asMeant && events.length === 0">
        {{ rehearsed.standIn }}: loaded, and nothing happens.
      </template>
      <template v-else-if="rehearsed.asMeant">
        {{ rehearsed.standIn }}: loaded, and plays everything as it is meant.
      </template>
      <template v-else-if="played!.refused.length > 0">
        {{ rehearsed.standIn }}: {{ count(played!.refused.length, 'complaint') }}; what it would not
        load is silent.
      </template>
      <template v-else>
        {{ rehearsed.standIn }}: loaded; {{ count(played!.dropped.length, what) }}
        {{ played!.dropped.length === 1 ? 'plays' : 'play' }} differently or not at all.
      </template>
    </p>
    <p v-if="rehearsal.problem" class="wax" role="alert">{{ rehearsal.problem }}</p>
    <TabRow v-model="tab" label="Rehearsal" :tabs="tabs" />
    <div v-if="tab === 'log'" ref="box" class="log" tabindex="0" role="log" aria-label="Log">
      <div class="all" :style="{ height: `${virtual.getTotalSize()}px` }">
        <button
          v-for="v in virtual.getVirtualItems()"
          :key="v.index"
          class="plain entry"
          type="button"
          :class="{ now: v.index === now, done: v.index < now }"
          :style="{ transform: `translateY(${v.start}px)` }"
          @click="rehearsal.go(events[v.index]!.atUs)"
        >
          <span class="soft">{{ sayClock(events[v.index]!.atUs / 1000) }}</span>
          <span class="what">{{ says(events[v.index]!) }}</span>
          <span class="soft">{{ held(events[v.index]!) }}</span>
        </button>
      </div>
    </div>
    <div v-else-if="tab === 'lost'" class="list" tabindex="0">
      <p v-if="lostCount === 0" class="soft">Nothing was dropped, and nothing was refused.</p>
      <article v-for="(r, i) in played?.refused.slice(0, 60)" :key="`r${i}`" class="item">
        <strong>{{ r.file || 'The delivery' }}, {{ r.at }}</strong>
        <p class="serif">{{ r.says }}</p>
      </article>
      <article v-for="l in lost" :key="`${l.because} ${l.how}`" class="item">
        <strong>
          {{ count(l.count, 'note') }}
          {{ l.how === 'silent' ? 'not played' : 'played differently' }}
        </strong>
        <p class="serif">{{ l.because }}.</p>
        <p class="ways">
          <button
            class="link"
            type="button"
            @click="rehearsal.go(Math.max(0, l.firstUs - 500_000))"
          >
            first at {{ sayClock(l.firstUs / 1000) }}
          </button>
          <button
            v-for="f in l.findings"
            :key="f.key"
            class="link"
            type="button"
            @click="lookAt(f.key)"
          >
            {{ f.number }} {{ f.title }}
          </button>
        </p>
      </article>
    </div>
    <div v-else-if="tab === 'hands'" class="list" tabindex="0">
      <ReceiveDesk v-if="linked" />
      <HandsPanel />
    </div>
    <PortDesk v-else-if="tab === 'port'" />
    <div v-else class="list" tabindex="0">
      <p class="soft">
        What you hear here, or heard at the real device: it stands on the sheet as a pencil mark
        until it is done.
      </p>
      <form class="jot" @submit.prevent="jot">
        <NInput
          ref="field"
          v-model:value="text"
          size="small"
          :disabled="job.readOnly"
          placeholder="Second horn late"
          :input-props="{ 'aria-label': 'What was heard here' }"
        />
        <NButton size="small" attr-type="submit" :disabled="job.readOnly || text.trim() === ''">
          Note it at {{ sayClock(playing.ms) }}
        </NButton>
      </form>
      <article v-for="{ note, tick, ms } in rehearsal.notes" :key="note.key" class="item heard">
        <button class="plain place" type="button" @click="go(ms, tick)">{{ place(tick) }}</button>
        <span class="serif" :class="{ done: note.done }">
          {{ note.says }}
          <span v-if="note.handover !== null" class="soft">handover {{ note.handover }}</span>
        </span>
        <button
          class="icon"
          type="button"
          :aria-pressed="note.done"
          :aria-label="`Done: ${note.says}`"
          :disabled="job.readOnly"
          @click="rehearsal.changeNote(note.key, { done: !note.done })"
        >
          <Check :size="15" />
        </button>
        <button
          class="icon"
          type="button"
          :aria-label="`Remove: ${note.says}`"
          :disabled="job.readOnly"
          @click="rehearsal.removeNote(note.key)"
        >
          <Trash2 :size="14" />
        </button>
      </article>
    </div>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto minmax(0, 1fr);
  gap: 6px;
  overflow: hidden;
}

.verdict {
  min-height: 20px;
}

.wax {
  color: var(--wax);
}

.log {
  min-height: 0;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.all {
  position: relative;
}

.entry {
  position: absolute;
  top: 0;
  right: 0;
  left: 0;
  display: grid;
  grid-template-columns: 66px 1fr auto;
  gap: 8px;
  align-items: center;
  height: 24px;
  padding: 0 8px;
  text-align: left;
  white-space: nowrap;
}

.what {
  overflow: hidden;
  text-overflow: ellipsis;
}

.entry.done .what {
  color: var(--ink-2);
}

.entry.now {
  background: var(--quill-wash);
  box-shadow: inset 3px 0 0 var(--lamp);
}

.list {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  align-content: start;
  min-height: 0;
  overflow: auto;
}

.item {
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}

.jot {
  display: flex;
  gap: 6px;
}

.heard {
  display: grid;
  grid-template-columns: auto 1fr auto auto;
  gap: 8px;
  align-items: center;
}

.place {
  color: var(--quill);
}

.heard .done {
  color: var(--ink-2);
  text-decoration: line-through;
}
</style>
