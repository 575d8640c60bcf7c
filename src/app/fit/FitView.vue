<script setup lang="ts">
import { plain } from '../../core/target/words';
import { SCORE_FILES } from '../../core/smf/name';
import { NButton, NSelect } from 'naive-ui';
import { until } from '@vueuse/core';
import { computed, onMounted } from 'vue';
import { useFit } from '../stores/fit';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';
import { useFiles } from '../kit/use-files';
import FitTable from './FitTable.vue';

/** One song on many targets, or many songs on one: what stops, and what it would take. */
const fit = useFit();
const targets = useTargets();
const shelf = useShelf();
onMounted(async () => {
  await targets.load();
  // A page that was loaded here does not know its jobs yet.
  await until(() => shelf.loaded).toBe(true);
  if (fit.songKeys.length === 0) fit.songKeys = fit.songs.slice(0, 1).map((s) => s.key);
  if (fit.targetIds.length === 0) fit.targetIds = targets.all.map((t) => t.id);
  if (fit.tried) void fit.run();
});

const songOptions = computed(() => fit.songs.map((s) => ({ label: s.title, value: s.key })));
const targetOptions = computed(() => targets.all.map((t) => ({ label: t.name, value: t.id })));
const choose = useFiles(SCORE_FILES, picked);
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
            : `all ${plain(fit.rows.length * fit.columns.length)}`
        }}
      </NButton>
      <NButton v-else @click="fit.cancel()">
        Stop at {{ plain(fit.done) }} of {{ plain(fit.total) }}
      </NButton>
    </div>

    <div v-if="fit.rows.length > 0 && fit.columns.length > 0" class="scroll">
      <FitTable />
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

.empty {
  padding: 30px 0;
  font-size: 16px;
}
</style>
