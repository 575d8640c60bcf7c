<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { FileLine, FileLines } from '../../core/handover/file-lines';
import { engine } from '../stores/engine';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';

/** A delivered file as a ruled page beside the sheet: a note marks its place, a place its note. */
const props = defineProps<{ path: string }>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const looking = useLooking();

const file = shallowRef<FileLines | null>(null);
const problem = ref<string | null>(null);
async function load() {
  problem.value = null;
  const asked = job.request();
  if (!asked) return;
  const found = await engine().ask('fileLines', { ...asked, known: [], path: props.path }).result;
  file.value = found;
  if (found === null)
    problem.value = 'The plan as it is now writes no file of this name. Hand over again to see it.';
}
onMounted(load);
watch([() => props.path, () => job.shown], load);

const lines = computed(() => file.value?.lines ?? []);
const page = ref<HTMLElement | null>(null);
const rows = useVirtualizer(
  computed(() => ({
    count: lines.value.length,
    getScrollElement: () => page.value,
    estimateSize: () => 20,
    overscan: 20,
  })),
);
/** The first line of each note. */
const lineOf = computed(() => {
  const out = new Map<number, number>();
  lines.value.forEach((line, i) => {
    for (const note of [line.note, ...line.inks.map((k) => k.note)])
      if (note !== undefined && !out.has(note)) out.set(note, i);
  });
  return out;
});
watch([() => looking.chosen, lineOf], ([chosen]) => {
  const [first] = chosen;
  const at = first === undefined ? undefined : lineOf.value.get(first);
  if (at !== undefined) rows.value.scrollToIndex(at, { align: 'auto' });
});
const isChosen = (note: number | undefined) => note !== undefined && looking.chosen.has(note);

function choose(note: number | undefined) {
  if (note === undefined) return;
  looking.chosen = new Set([note]);
  for (const { columns } of job.shown?.delivered.parts ?? []) {
    const i = columns.id.indexOf(note);
    if (i >= 0) looking.bring(columns.start[i]!);
  }
}

interface Piece {
  readonly text: string;
  readonly ink: string | null;
  readonly note: number | undefined;
}
/** A line cut where the ink changes. */
function piecesOf(line: FileLine): Piece[] {
  const out: Piece[] = [];
  let at = 0;
  for (const { from, to, ink, note } of line.inks) {
    if (from > at) out.push({ text: line.text.slice(at, from), ink: null, note: undefined });
    out.push({ text: line.text.slice(from, to), ink, note });
    at = to;
  }
  if (at < line.text.length) out.push({ text: line.text.slice(at), ink: null, note: undefined });
  return out;
}
const number = (line: FileLine) =>
  file.value?.kind === 'bytes' ? line.at.toString(16).padStart(5, '0') : String(line.at);
/** Walks from note to note; the one that is met is chosen on the sheet as well. */
function walk(event: KeyboardEvent) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  const [chosen] = looking.chosen;
  let i = chosen === undefined ? -1 : (lineOf.value.get(chosen) ?? -1);
  const noteAt = (n: number) =>
    lines.value[n]?.note ?? lines.value[n]?.inks.find((k) => k.note !== undefined)?.note;
  do i += by;
  while (i >= 0 && i < lines.value.length && (noteAt(i) === undefined || noteAt(i) === chosen));
  choose(noteAt(i));
}
</script>

<template>
  <section class="file" :aria-label="`${path}, as it would be handed over now`">
    <header>
      <strong class="path">{{ path }}</strong>
      <span v-if="file" class="soft">
        {{ (lines.length + file.more).toLocaleString('en-GB') }}
        {{ file.kind === 'bytes' ? 'events or fields' : 'lines' }}
      </span>
      <button type="button" class="link" @click="emit('close')">Close</button>
    </header>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <div ref="page" class="page" tabindex="0" aria-label="What stands in it" @keydown="walk">
      <div class="whole" :style="{ height: `${rows.getTotalSize()}px` }">
        <div
          v-for="row in rows.getVirtualItems()"
          :key="row.index"
          class="line"
          :class="{ chosen: isChosen(lines[row.index]!.note) }"
          :style="{ transform: `translateY(${row.start}px)` }"
          :data-note="lines[row.index]!.note"
          @click="choose(lines[row.index]!.note)"
        >
          <span class="at">{{ number(lines[row.index]!) }}</span>
          <span class="text"
            ><template v-for="(p, i) in piecesOf(lines[row.index]!)" :key="i"
              ><span
                v-if="p.ink"
                :class="[p.ink, { chosen: isChosen(p.note) }]"
                @click.stop="choose(p.note ?? lines[row.index]!.note)"
                >{{ p.text }}</span
              ><template v-else>{{ p.text }}</template></template
            ></span
          >
          <span v-if="lines[row.index]!.says" class="says">{{ lines[row.index]!.says }}</span>
        </div>
      </div>
    </div>
    <p v-if="file && file.more > 0" class="soft">
      and {{ file.more.toLocaleString('en-GB') }} more that are not shown
    </p>
    <p class="soft inks">
      <span class="time">time</span> · <span class="key">key</span> ·
      <span class="velocity">velocity</span> · <span class="who">who plays</span> ·
      <span class="text-ink">text</span> · <span class="count">counts</span>
    </p>
  </section>
</template>

<style scoped>
.file {
  display: flex;
  flex-direction: column;
  margin: 10px 0;
}

header {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}

.path {
  font-family: 'IBM Plex Mono', monospace;
}

header .link {
  margin-left: auto;
}

.page {
  height: 46vh;
  min-height: 240px;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
  font:
    12px/20px 'IBM Plex Mono',
    monospace;
}

.whole {
  position: relative;
  min-width: max-content;
}

.line {
  position: absolute;
  top: 0;
  left: 0;
  display: flex;
  gap: 10px;
  min-width: 100%;
  height: 20px;
  padding-right: 10px;
  border-bottom: 1px solid var(--hatch-ground);
  white-space: pre;
}

.line[data-note] {
  cursor: pointer;
}

.line.chosen,
.text .chosen {
  background: var(--hatch-ground);
}

.line.chosen .at {
  box-shadow: inset 3px 0 0 var(--quill);
}

.at {
  position: sticky;
  left: 0;
  min-width: 46px;
  padding-right: 8px;
  border-right: 1px solid var(--line);
  background: var(--page);
  color: var(--ink-2);
  text-align: right;
}

.says {
  color: var(--ink-2);
  font-family: var(--sans);
}

.time {
  color: var(--quill);
}

.key {
  color: var(--ochre-text);
}

.velocity {
  color: var(--moss-text);
  font-weight: 600;
}

.who,
.text-ink {
  font-style: italic;
}

.count {
  color: var(--ink-2);
}

.inks {
  margin-top: 4px;
}
</style>
