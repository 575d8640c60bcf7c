<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { BesideRow, FileBeside } from '../../core/handover/file-beside';
import type { FileLine, FileLines } from '../../core/handover/file-lines';
import { useFiles } from '../kit/use-files';
import { engine } from '../stores/engine';
import { useHandover } from '../stores/handover';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';

/** A delivered file as a ruled page beside the sheet: a note marks its place, a place its note. */
const props = defineProps<{ path: string }>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const looking = useLooking();

const handover = useHandover();
const file = shallowRef<FileLines | null>(null);
const problem = ref<string | null>(null);

/** What stands beside it: the same file of a handover before, or one that the far side takes. */
interface Other {
  readonly id: string;
  readonly says: string;
  readonly bytes: Uint8Array;
}
const other = shallowRef<Other | null>(null);
const beside = shallowRef<FileBeside | null>(null);
const before = computed(() =>
  handover.rows.filter(
    (r) => r.targetId === job.target?.id && r.receipt.files.some((f) => f.path === props.path),
  ),
);
const chooseFile = useFiles('', async ([chosen]) => {
  if (!chosen) return;
  other.value = {
    id: 'file',
    says: chosen.name,
    bytes: new Uint8Array(await chosen.arrayBuffer()),
  };
});
async function lay(select: HTMLSelectElement) {
  const id = select.value;
  const row = before.value.find((r) => r.id === id);
  if (id === 'file') {
    chooseFile();
    // Nothing is laid there before a file was chosen.
    select.value = other.value?.id ?? '';
  } else if (!row) other.value = null;
  else {
    const found = (await handover.filesOf(row)).find((f) => f.path === props.path);
    if (found) other.value = { id, says: `handover ${row.number}`, bytes: found.bytes };
  }
}

async function load() {
  problem.value = null;
  const asked = job.request();
  if (!asked) return;
  const bytes = other.value?.bytes;
  const found = await engine().ask('fileLines', {
    ...asked,
    known: [],
    path: props.path,
    ...(bytes ? { beside: bytes } : {}),
  }).result;
  file.value = found?.file ?? null;
  beside.value = found?.beside ?? null;
  if (found === null)
    problem.value = 'The plan as it is now writes no file of this name. Hand over again to see it.';
}
onMounted(load);
// Of another file nothing stands beside it yet: known before it is asked for.
watch(
  () => props.path,
  () => (other.value = null),
  { flush: 'sync' },
);
watch([() => props.path, () => job.shown, other], load);

const lines = computed(() => file.value?.lines ?? []);
/** Where another file stands beside it: only what differs, or all of it. */
const onlyDifferent = ref(false);
const laid = computed((): readonly BesideRow[] => {
  const all =
    beside.value?.rows ?? lines.value.map((_, mine) => ({ mine, other: null, same: true }));
  return beside.value && onlyDifferent.value ? all.filter((r) => !r.same) : all;
});
/** What was there before, where it differs. */
const goneAt = (row: BesideRow): FileLine | null =>
  !beside.value || row.other === null || row.same
    ? null
    : (beside.value.other.lines[row.other] ?? null);
const isNew = (row: BesideRow) => beside.value !== null && row.mine !== null && !row.same;

const page = ref<HTMLElement | null>(null);
const LINE = 20;
/** A line for what was, one for what is, one that says in words what became of it. */
const heightOf = (row: BesideRow) =>
  LINE * (Number(row.mine !== null) + Number(goneAt(row) !== null) + Number(!!row.says));
const rows = useVirtualizer(
  computed(() => ({
    count: laid.value.length,
    getScrollElement: () => page.value,
    estimateSize: (i: number) => heightOf(laid.value[i]!),
    overscan: 20,
  })),
);
watch(laid, () => rows.value.measure());
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
  if (at === undefined) return;
  const row = laid.value.findIndex((r) => r.mine === at);
  if (row >= 0) rows.value.scrollToIndex(row, { align: 'auto' });
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
const mineAt = ({ mine }: BesideRow): readonly FileLine[] => {
  const line = mine === null ? undefined : lines.value[mine];
  return line ? [line] : [];
};
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
    <p class="beside">
      <label>
        Beside it
        <select :value="other?.id ?? ''" @change="lay($event.target as HTMLSelectElement)">
          <option value="">nothing</option>
          <option v-for="r in before" :key="r.id" :value="r.id">
            as in handover {{ r.number }}
          </option>
          <option v-if="other?.id === 'file'" value="file">{{ other.says }}</option>
          <option v-else value="file">a file that it takes…</option>
        </select>
      </label>
      <template v-if="beside">
        <span data-testid="differ">
          <template v-if="beside.differ === 0">The same, line by line.</template>
          <template v-else>
            {{ beside.differ === 1 ? 'One line differs' : `${beside.differ} lines differ` }}; what
            stands in {{ other?.says }} is struck out.
          </template>
        </span>
        <label v-if="beside.differ > 0">
          <input v-model="onlyDifferent" type="checkbox" /> only what differs
        </label>
      </template>
    </p>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <div ref="page" class="page" tabindex="0" aria-label="What stands in it" @keydown="walk">
      <div class="whole" :style="{ height: `${rows.getTotalSize()}px` }">
        <div
          v-for="row in rows.getVirtualItems()"
          :key="row.index"
          class="row"
          :style="{ transform: `translateY(${row.start}px)` }"
        >
          <div v-if="goneAt(laid[row.index]!)" class="line gone">
            <span class="at">{{ number(goneAt(laid[row.index]!)!) }}</span>
            <del class="text">{{ goneAt(laid[row.index]!)!.text }}</del>
          </div>
          <template v-for="line in mineAt(laid[row.index]!)" :key="line.at">
            <div
              class="line"
              :class="{ chosen: isChosen(line.note), new: isNew(laid[row.index]!) }"
              :data-note="line.note"
              @click="choose(line.note)"
            >
              <span class="at">{{ number(line) }}</span>
              <span class="text"
                ><template v-for="(p, i) in piecesOf(line)" :key="i"
                  ><span
                    v-if="p.ink"
                    :class="[p.ink, { chosen: isChosen(p.note) }]"
                    @click.stop="choose(p.note ?? line.note)"
                    >{{ p.text }}</span
                  ><template v-else>{{ p.text }}</template></template
                ></span
              >
              <span v-if="line.says" class="says">{{ line.says }}</span>
            </div>
          </template>
          <p v-if="laid[row.index]!.says" class="line told">
            <span class="at"></span>
            <span class="says">{{ laid[row.index]!.says }}</span>
          </p>
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

.row {
  position: absolute;
  top: 0;
  left: 0;
  min-width: 100%;
}

.line {
  display: flex;
  gap: 10px;
  min-width: 100%;
  height: 20px;
  padding-right: 10px;
  border-bottom: 1px solid var(--hatch-ground);
  white-space: pre;
}

.told {
  margin: 0;
}

.told .says {
  color: var(--ochre-text);
}

.beside select {
  padding: 2px 6px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
  color: var(--ink);
  font: inherit;
}

.gone .text {
  color: var(--ink-2);
}

.line.new .at {
  color: var(--ink);
  box-shadow: inset 3px 0 0 var(--ochre);
  font-weight: 600;
}

.beside {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  margin: 4px 0 6px;
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
