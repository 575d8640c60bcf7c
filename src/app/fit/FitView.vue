<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed, onMounted } from 'vue';
import { useRouter } from 'vue-router';
import type { Fit } from '../../core/plan/fit';
import type { Target } from '../../core/target/schema';
import TallyDots from '../margin/TallyDots.vue';
import { sayFit } from './say-fit';
import { useFit, type Song } from '../stores/fit';
import { useTargets } from '../stores/targets';
import { useFiles } from '../kit/use-files';

/** One song on many targets, or many songs on one: what stops, and what it would take. */
const fit = useFit();
const targets = useTargets();
const router = useRouter();
onMounted(async () => {
  await targets.load();
  if (fit.songKeys.length === 0) fit.songKeys = fit.songs.slice(0, 1).map((s) => s.key);
  if (fit.targetIds.length === 0) fit.targetIds = targets.all.map((t) => t.id);
  if (fit.tried) void fit.run();
});

const songOptions = computed(() => fit.songs.map((s) => ({ label: s.title, value: s.key })));
const targetOptions = computed(() => targets.all.map((t) => ({ label: t.name, value: t.id })));
/** A table reads best with the longer list down the page. */
const turned = computed(() => fit.columns.length > fit.rows.length);

async function open(song: Song, target: Target) {
  await router.push(`/job/${await fit.openCell(song, target)}/proof`);
}
const state = (f: Fit) => (f.mended.stops > 0 ? 'open' : f.kept === f.seated ? 'clean' : 'changed');
const choose = useFiles('.mid,.midi,.smf,.rmi', picked);
async function picked(files: File[]) {
  await fit.take(files);
}
</script>

<template>
  <section class="fit" aria-labelledby="fit-title">
    <header class="head">
      <div>
        <h1 id="fit-title">Fit</h1>
        <p class="serif intro">
          Try a song on many targets, or drop forty songs to see which of them fit. Nothing is
          changed: the mends are tried on copies. A cell opens its proof.
        </p>
      </div>
      <NButton @click="choose()">Try files</NButton>
    </header>
    <div class="choose">
      <label>
        <span class="label">Songs</span>
        <NSelect
          v-model:value="fit.songKeys"
          multiple
          filterable
          size="small"
          max-tag-count="responsive"
          :options="songOptions"
          placeholder="Choose jobs, or drop files here"
          aria-label="Songs"
        />
      </label>
      <label>
        <span class="label">Targets</span>
        <NSelect
          v-model:value="fit.targetIds"
          multiple
          filterable
          size="small"
          max-tag-count="responsive"
          :options="targetOptions"
          placeholder="Choose targets"
          aria-label="Targets"
        />
      </label>
      <NButton
        v-if="!fit.running"
        type="primary"
        :disabled="fit.rows.length === 0 || fit.columns.length === 0"
        @click="fit.run()"
      >
        Try
        {{
          fit.rows.length * fit.columns.length === 1
            ? 'it'
            : `all ${fit.rows.length * fit.columns.length}`
        }}
      </NButton>
      <NButton v-else @click="fit.cancel()"> Stop at {{ fit.done }} of {{ fit.total }} </NButton>
    </div>

    <div v-if="fit.rows.length > 0 && fit.columns.length > 0" class="scroll">
      <table class="table" :class="{ one: (turned ? fit.rows : fit.columns).length === 1 }">
        <thead>
          <tr>
            <th scope="col">{{ turned ? 'Target' : 'Song' }}</th>
            <template v-if="turned">
              <th v-for="song in fit.rows" :key="song.key" scope="col">{{ song.title }}</th>
            </template>
            <template v-else>
              <th v-for="t in fit.columns" :key="t.id" scope="col">{{ t.name }}</th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in turned ? fit.columns.length : fit.rows.length" :key="r">
            <th scope="row">
              {{ turned ? fit.columns[r - 1]!.name : fit.rows[r - 1]!.title }}
            </th>
            <td v-for="c in turned ? fit.rows.length : fit.columns.length" :key="c">
              <template
                v-for="pair in [
                  turned
                    ? { song: fit.rows[c - 1]!, target: fit.columns[r - 1]! }
                    : { song: fit.rows[r - 1]!, target: fit.columns[c - 1]! },
                ]"
                :key="pair.song.key + pair.target.id"
              >
                <button
                  v-for="f in [fit.cell(pair.song, pair.target)]"
                  :key="String(f === null)"
                  type="button"
                  class="cell"
                  :class="f && f !== 'unread' ? state(f) : 'none'"
                  :aria-label="`${pair.song.title} on ${pair.target.name}`"
                  @click="open(pair.song, pair.target)"
                >
                  <template v-if="f && f !== 'unread'">
                    <TallyDots :tally="{ ...f.now, remarks: 0 }" />
                    <span class="takes">{{ sayFit(f) }}</span>
                  </template>
                  <span v-else class="soft">{{ f === 'unread' ? 'not read' : 'not tried' }}</span>
                </button>
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="serif empty">
      Choose songs and targets above, or drop files anywhere in this window.
    </p>
  </section>
</template>

<style scoped>
.fit {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
  height: 100%;
  padding: 22px 28px 0;
}

.head {
  display: flex;
  gap: 20px;
  align-items: flex-start;
  justify-content: space-between;
}

.head h1 {
  font-size: 26px;
}

.intro {
  max-width: 640px;
  color: var(--ink-2);
  font-size: 15px;
}

.choose {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 12px;
  align-items: end;
  margin: 14px 0;
}

.choose label {
  min-width: 0;
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.scroll {
  min-height: 0;
  overflow: auto;
  padding-bottom: 30px;
}

.table {
  border-collapse: collapse;
  background: var(--page);
}

.table.one {
  width: min(100%, 760px);
}

.table th,
.table td {
  padding: 0;
  border: 1px solid var(--line);
  text-align: left;
}

.table th {
  padding: 6px 10px;
  font-weight: 500;
}

.table thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--band);
}

.table tbody th {
  position: sticky;
  left: 0;
  background: var(--page);
  white-space: nowrap;
}

.cell {
  display: flex;
  gap: 4px 12px;
  align-items: center;
  width: 100%;
  min-width: 150px;
  padding: 6px 10px;
  border: 0;
  border-left: 4px solid transparent;
  background: none;
  text-align: left;
  flex-wrap: wrap;
  cursor: pointer;
}

.cell:hover {
  background: var(--quill-wash);
}

.cell.open {
  border-left-color: var(--wax);
}

.cell.changed {
  border-left: 4px dotted var(--ochre);
}

.cell.clean {
  border-left-color: var(--moss);
}

.takes {
  color: var(--ink-2);
  font-size: 12px;
}

.empty {
  padding: 30px 0;
  font-size: 16px;
}
</style>
