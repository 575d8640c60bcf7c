<script setup lang="ts">
import { computed } from 'vue';
import { useByAndBy } from '../kit/use-by-and-by';
import { useFit } from '../stores/fit';
import FitCell from './FitCell.vue';

/** Songs and targets; a table reads best with the longer list down the page. */
const fit = useFit();
const turned = computed(() => fit.columns.length > fit.rows.length);
const setUp = useByAndBy(() => Math.max(fit.columns.length, fit.rows.length), 2);
</script>

<template>
  <table class="table" :class="{ one: (turned ? fit.rows : fit.columns).length === 1 }">
    <thead>
      <tr>
        <th scope="col">{{ turned ? 'Target' : 'Song' }}</th>
        <template v-if="turned">
          <th v-for="song in fit.rows" :key="song.key" scope="col">
            <span class="called" :title="song.title">{{ song.title }}</span>
          </th>
        </template>
        <template v-else>
          <th v-for="t in fit.columns" :key="t.id" scope="col">{{ t.name }}</th>
        </template>
      </tr>
    </thead>
    <tbody>
      <template v-if="turned">
        <tr v-for="target in fit.columns.slice(0, setUp)" :key="target.id">
          <th scope="row">{{ target.name }}</th>
          <td v-for="song in fit.rows" :key="song.key">
            <FitCell :song="song" :target="target" />
          </td>
        </tr>
      </template>
      <template v-else>
        <tr v-for="song in fit.rows.slice(0, setUp)" :key="song.key">
          <th scope="row">
            <span class="called" :title="song.title">{{ song.title }}</span>
          </th>
          <td v-for="target in fit.columns" :key="target.id">
            <FitCell :song="song" :target="target" />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
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

/* A song is called whatever its file was. */
.called {
  display: block;
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
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
</style>
