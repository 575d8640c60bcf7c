<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core';
import { computed } from 'vue';
import { GripVertical, X } from '@lucide/vue';
import { VueDraggable } from 'vue-draggable-plus';
import type { SetRow } from '../../core/sets/set';
import { sayBytes } from '../../core/sets/write-card';
import { count } from '../../core/target/words';
import { sayClock } from '../../core/time/meter-map';
import { useByAndBy } from '../kit/use-by-and-by';
import WithSound from '../kit/WithSound.vue';
import TallyDots from '../margin/TallyDots.vue';
import JobPicture from '../shelf/JobPicture.vue';
import { usePictures } from '../stores/pictures';
import { targetOf, useSet } from '../stores/set';

/** The songs in the order in which they are played, as a page of ruled lines. */
const props = defineProps<{ shown: ReadonlySet<string> | null }>();
const emit = defineEmits<{ open: [key: string] }>();
const open = useSet();
const pictures = usePictures();

const rows = computed({
  get: () =>
    (open.set?.rows ?? []).filter((r) => !props.shown || props.shown.has(r.key)) as SetRow[],
  set: (to) => {
    if (!props.shown)
      void open.change({ is: 'order', keys: to.map((r) => r.key) }, 'Another order');
  },
});
// Columns that a narrow window leaves out: a text reaches as far as the songs do.
const middling = useMediaQuery('(width <= 1100px)');
const narrow = useMediaQuery('(width <= 860px)');
const textSpan = computed(() => 7 - (middling.value ? 2 : 0) - (narrow.value ? 2 : 0));
const setUp = useByAndBy(() => rows.value.length, 10);
const lineOf = (key: string) => open.lineOf.get(key)!;

function move(key: string, by: number) {
  const keys = open.set!.rows.map((r) => r.key);
  const at = keys.indexOf(key);
  const to = at + by;
  if (props.shown || to < 0 || to >= keys.length) return;
  keys.splice(to, 0, ...keys.splice(at, 1));
  void open.change({ is: 'order', keys }, by < 0 ? 'One place earlier' : 'One place later');
}
function keys(event: KeyboardEvent, key: string) {
  if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
  event.preventDefault();
  move(key, event.key === 'ArrowUp' ? -1 : 1);
}
const sayKept = (kept: number) => (kept >= 100 ? 'all' : `${kept} %`);
</script>

<template>
  <table class="order" :aria-busy="open.looking !== null">
    <thead>
      <tr>
        <th class="grip"><span class="sr">Move</span></th>
        <th class="n"><span class="sr">Number</span></th>
        <th>Song</th>
        <th class="drawn"><span class="sr">Picture</span></th>
        <th class="target">For</th>
        <th class="clock">Length</th>
        <th>Findings</th>
        <th class="kept" title="Notes of the parts that play">Notes</th>
        <th class="out" title="The last handover that it went out with">Out</th>
        <th class="more"><span class="sr">More</span></th>
      </tr>
    </thead>
    <VueDraggable
      v-model="rows"
      tag="tbody"
      handle=".grip"
      :disabled="shown !== null"
      :animation="120"
    >
      <tr
        v-for="row in rows.slice(0, setUp)"
        :key="row.key"
        :class="{ text: row.is === 'text', aside: row.is === 'song' && row.aside }"
        @keydown="keys($event, row.key)"
      >
        <td class="grip" title="Drag to another place, or hold Alt and press an arrow">
          <GripVertical :size="14" />
        </td>
        <template v-if="row.is === 'text'">
          <td></td>
          <td :colspan="textSpan">
            <input
              class="divider serif"
              :value="row.text"
              maxlength="300"
              aria-label="Text between songs"
              @change="
                open.change(
                  {
                    is: 'text',
                    key: row.key,
                    text: ($event.target as HTMLInputElement).value,
                  },
                  'Another text',
                )
              "
            />
          </td>
        </template>
        <template v-else>
          <td class="n">{{ lineOf(row.key).number ?? '–' }}</td>
          <td class="song">
            <a
              v-if="lineOf(row.key).job"
              class="title by-letter"
              :href="`/job/${row.job}/proof`"
              @click.prevent="emit('open', row.key)"
              >{{ lineOf(row.key).title }}</a
            >
            <span v-else class="title gone by-letter">{{ lineOf(row.key).title }}</span>
            <WithSound v-if="lineOf(row.key).job?.sound" :name="lineOf(row.key).job!.sound!.name" />
            <span v-if="row.name !== undefined" class="soft small as by-letter"
              >as {{ row.name }}</span
            >
            <span v-if="lineOf(row.key).problem" class="problem small by-letter">
              {{ lineOf(row.key).problem }}
            </span>
          </td>
          <td class="drawn">
            <JobPicture
              :picture="pictures.rows.get(row.job)"
              :judged="lineOf(row.key).job?.activeTarget === row.target"
            />
          </td>
          <td class="target soft">
            {{ lineOf(row.key).job ? targetOf(lineOf(row.key).job!, row) : '' }}
          </td>
          <td class="clock">
            {{
              lineOf(row.key).facts ? sayClock(lineOf(row.key).facts!.lengthMs).slice(0, -4) : ''
            }}
          </td>
          <td>
            <TallyDots v-if="lineOf(row.key).facts" :tally="lineOf(row.key).facts!.tally" />
            <span v-else-if="!lineOf(row.key).problem && !row.aside" class="soft">…</span>
            <span v-if="lineOf(row.key).facts?.choices" class="soft small whole">
              {{ ' ' }}{{ count(lineOf(row.key).facts!.choices, 'choice') }}
            </span>
          </td>
          <td class="kept">
            {{ lineOf(row.key).facts ? sayKept(lineOf(row.key).facts!.kept) : '' }}
          </td>
          <td class="out soft">
            <template v-if="lineOf(row.key).handedOver !== null">
              {{ lineOf(row.key).handedOver }}
              <strong v-if="lineOf(row.key).changed" class="changed">changed since</strong>
            </template>
          </td>
        </template>
        <td class="more">
          <button
            v-if="row.is === 'song'"
            class="link small"
            type="button"
            @click="
              open.change(
                { is: 'aside', keys: [row.key], aside: !row.aside },
                row.aside ? 'Take a song back in' : 'Put a song aside',
              )
            "
          >
            {{ row.aside ? 'Take in' : 'Aside' }}
          </button>
          <button
            class="icon"
            type="button"
            :aria-label="`Take ${row.is === 'song' ? lineOf(row.key).title : 'the text'} out of the set`"
            title="Take it out of the set; the job stays"
            @click="open.change({ is: 'remove', keys: [row.key] }, 'Take out of the set')"
          >
            <X :size="15" />
          </button>
        </td>
      </tr>
    </VueDraggable>
  </table>
  <p v-if="open.lines.length === 0" class="serif none">
    No song is in this set yet. Drop files or a folder here, or bring jobs in from the desk.
  </p>
  <p v-else-if="rows.length === 0" class="soft none">No song matches.</p>
  <p v-if="open.lines.length > 0" class="totals">
    {{ count(open.totals.songs, 'song') }}, {{ sayClock(open.totals.ms).slice(0, -4) }} on the
    clock, {{ sayBytes(open.totals.bytes) }}
    <span v-if="open.looking" class="soft">
      · looking at {{ open.looking.done + 1 }} of {{ open.looking.total }}
      <button class="link" type="button" @click="open.stop()">Stop</button>
    </span>
  </p>
</template>

<style scoped>
.order {
  width: 100%;
  border-collapse: collapse;
}

.order th {
  padding: 2px 8px 6px;
  color: var(--ink-2);
  font-size: 12px;
  font-weight: 400;
  text-align: left;
}

.order td {
  padding: 7px 8px;
  border-bottom: 1px solid var(--line);
  vertical-align: middle;
}

.order .grip {
  width: 22px;
  padding: 0;
  color: var(--ink-2);
  cursor: grab;
}

.order .n {
  width: 34px;
  font: 600 16px var(--serif);
  text-align: right;
}

.title {
  color: var(--ink);
  font: 600 16px/1.25 var(--serif);
  text-decoration: none;
}

.title.gone {
  color: var(--ink-2);
}

.as,
.problem {
  display: block;
}

.problem {
  display: block;
  color: var(--wax);
}

.song {
  min-width: 170px;
}

.drawn {
  width: 128px;
  padding-right: 0 !important;
}

.target {
  min-width: 104px;
}

.clock,
.kept {
  text-align: right !important;
  white-space: nowrap;
}

.changed {
  color: var(--ochre-text);
  font-weight: 500;
}

.aside td:not(.more) {
  opacity: 0.5;
}

.text td {
  border-bottom-style: dashed;
}

.divider {
  width: 100%;
  padding: 2px 4px;
  border: 0;
  background: none;
  font-style: italic;
}

.more {
  width: 90px;
  text-align: right;
  white-space: nowrap;
}

.more > * {
  vertical-align: middle;
}

/* The foot of a long order is seen while it is looked at. */
.totals {
  position: sticky;
  bottom: 0;
  margin: 0;
  padding: 12px 8px 18px;
  background: var(--paper);
  font: 600 14px var(--serif);
}

.whole {
  white-space: nowrap;
}

.totals .soft {
  font: 400 13px var(--sans);
}

.none {
  padding: 30px 8px;
}

@media (width <= 1100px) {
  .drawn,
  .kept {
    display: none;
  }
}

@media (width <= 860px) {
  .target,
  .out {
    display: none;
  }
}
</style>
