<script setup lang="ts">
import { NButton } from 'naive-ui';
import { AudioLines, Captions, FileCode, FileMusic, FileSpreadsheet, Printer } from '@lucide/vue';
import { computed, onBeforeUnmount, ref, shallowRef, type Component } from 'vue';
import { count } from '../../core/target/words';
import DialogCard from '../kit/DialogCard.vue';
import { canWriteFolders } from '../storage/folder';
import type { HandoverRow } from '../storage/db';
import { useHandover } from '../stores/handover';
import { useToFinding } from '../margin/to-finding';
import { useJob } from '../stores/job';

/** The files of one handover: what each is, what the device does with it, and ways to have them. */
const props = defineProps<{ row: HandoverRow }>();
const emit = defineEmits<{ inside: [path: string] }>();
const handover = useHandover();
const job = useJob();

const receipt = computed(() => props.row.receipt);
/** A handover of an older version was not rehearsed. */
const rehearsed = computed(() => receipt.value.rehearsed ?? null);

const PICTURES: readonly (readonly [RegExp, Component, string])[] = [
  [/\.mid$/, FileMusic, 'MIDI file'],
  [/\.json$/, FileCode, 'data for a program'],
  [/\.csv$/, FileSpreadsheet, 'table'],
  [/\.vtt$/, Captions, 'captions'],
  [/\.svg$/, Printer, 'sheet to print'],
  [/\.wav$/, AudioLines, 'sound'],
];
const pictureOf = (path: string) => PICTURES.find(([ending]) => ending.test(path)) ?? PICTURES[1]!;

const says = (f: HandoverRow['receipt']['files'][number]): string => {
  if (f.complaints?.length) return f.complaints[0]!;
  if (f.readBack === 'differs') return `read back, different: ${f.differences[0] ?? ''}`;
  const heard = rehearsed.value === null ? '' : f.plays ? `loaded, plays ${f.plays}` : 'loaded';
  return [f.readBack === 'same' ? 'read back, the same' : '', heard].filter(Boolean).join('; ');
};
const sheet = (path: string) => path.endsWith('.svg');

const preview = shallowRef<{ path: string; url: string } | null>(null);
function close() {
  if (preview.value) URL.revokeObjectURL(preview.value.url);
  preview.value = null;
}
async function look(path: string) {
  const file = (await handover.filesOf(props.row)).find((f) => f.path === path);
  if (!file) return;
  close();
  // As an image nothing in it can run.
  const blob = new Blob([file.bytes as Uint8Array<ArrayBuffer>], { type: 'image/svg+xml' });
  preview.value = { path, url: URL.createObjectURL(blob) };
}
onBeforeUnmount(close);

const titleOf = (key: string) => job.findings.find((f) => f.key === key)?.title;
const open = useToFinding();
const folders = canWriteFolders();
const writing = ref(false);
async function intoFolder(other = false) {
  writing.value = true;
  await handover.intoFolder(props.row, { other });
  writing.value = false;
}
</script>

<template>
  <p
    v-if="rehearsed"
    class="verdict serif"
    :class="{ good: rehearsed.asMeant }"
    data-testid="rehearsed"
  >
    <template v-if="rehearsed.asMeant">
      A stand-in for {{ receipt.target.name }} loaded these files and plays them as meant.
    </template>
    <template v-else-if="rehearsed.standIn">
      A stand-in for {{ receipt.target.name }} does not play all of this as meant.
    </template>
    <template v-else>No stand-in is there for {{ receipt.target.name }}.</template>
  </p>
  <ul class="files" data-testid="handover-files">
    <li v-for="f in receipt.files" :key="f.path" class="file">
      <component
        :is="pictureOf(f.path)[1]"
        class="picture"
        :size="20"
        :stroke-width="1.5"
        role="img"
        :aria-label="pictureOf(f.path)[2]"
      />
      <div class="text">
        <span class="path">{{ f.path }}</span>
        <span class="soft">{{ f.bytes.toLocaleString('en-GB') }} bytes</span>
        <span :class="{ amiss: f.complaints?.length || f.readBack === 'differs' }">
          {{ says(f) }}
        </span>
      </div>
      <div class="ways">
        <button v-if="sheet(f.path)" class="link" type="button" @click="look(f.path)">Look</button>
        <button
          v-else-if="!f.path.endsWith('.wav')"
          class="link"
          type="button"
          :aria-label="`See inside ${f.path}`"
          @click="emit('inside', f.path)"
        >
          Inside
        </button>
        <button
          class="link"
          type="button"
          :aria-label="`Save ${f.path}`"
          @click="handover.saveOne(row, f.path)"
        >
          Save
        </button>
      </div>
    </li>
    <li class="file">
      <component
        :is="FileCode"
        class="picture"
        :size="20"
        :stroke-width="1.5"
        role="img"
        aria-label="receipt"
      />
      <div class="text">
        <span class="path">receipt.html, receipt.json</span>
        <span class="soft">what went in, what changed, what was lost</span>
      </div>
      <div class="ways">
        <button class="link" type="button" @click="handover.read(row)">Read the receipt</button>
      </div>
    </li>
  </ul>
  <div class="whole">
    <NButton size="small" @click="handover.again(row)">Save the pack</NButton>
    <NButton v-if="folders" size="small" :loading="writing" @click="intoFolder()">
      {{ handover.folder ? `Write into ${handover.folder.name}` : 'Write into a folder…' }}
    </NButton>
    <NButton v-if="folders && handover.folder" size="small" quaternary @click="intoFolder(true)">
      Another folder…
    </NButton>
  </div>
  <p v-if="handover.writtenTo" class="soft" role="status">{{ handover.writtenTo }}</p>

  <template v-if="rehearsed && rehearsed.lost.length > 0">
    <h3>Dropped by the device</h3>
    <ul class="lost" data-testid="dropped">
      <li v-for="l in rehearsed.lost" :key="l.because + l.altered">
        {{ count(l.notes, 'note') }} {{ l.altered ? 'played differently' : 'silent' }}:
        {{ l.because }}.
        <template v-for="f in l.findings" :key="f.key">
          <button
            v-if="titleOf(f.key)"
            class="link"
            type="button"
            :title="f.says"
            @click="open(f.key)"
          >
            {{ titleOf(f.key) }}
          </button>
          <span v-else class="soft">{{ f.says }}</span>
        </template>
      </li>
    </ul>
  </template>
  <template v-if="rehearsed && rehearsed.unexplained.length > 0">
    <h3>Not explained</h3>
    <p class="serif">
      The writer and the stand-in disagree, and no finding says why. This is a fault of Wary Quill:
      save the job as a file, so that it can be looked into.
    </p>
    <ul class="lost">
      <li v-for="u in rehearsed.unexplained" :key="u">{{ u }}</li>
    </ul>
  </template>

  <DialogCard v-if="preview" :title="preview.path" :width="900" @close="close">
    <div class="sheet" tabindex="0" role="region" :aria-label="`Preview of ${preview.path}`">
      <img :src="preview.url" :alt="`The strip of ${preview.path}, page by page`" />
    </div>
  </DialogCard>
</template>

<style scoped>
.verdict {
  margin: 8px 0;
  padding: 6px 10px;
  border-left: 3px solid var(--wax);
}

.verdict.good {
  border-left-color: var(--moss);
}

.files,
.lost {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}

.file {
  display: grid;
  grid-template-columns: 24px 1fr auto;
  gap: 8px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}

.picture {
  margin-top: 2px;
  color: var(--ink-2);
}

.text {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
}

.path {
  font-weight: 500;
  overflow-wrap: anywhere;
}

.amiss {
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}

.ways {
  display: flex;
  gap: 8px;
  align-items: start;
}

.whole {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 10px;
}

.lost li {
  padding: 3px 0;
}

.lost .link {
  display: block;
  text-align: left;
}

.sheet {
  max-height: 70vh;
  overflow: auto;
  background: #fff;
}

.sheet img {
  display: block;
  width: 100%;
}
</style>
