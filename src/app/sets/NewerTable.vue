<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed, reactive } from 'vue';
import { useNewerExports, type Newer } from '../stores/newer-exports';
import { useSet } from '../stores/set';

/** Files that were dropped on the set: which song each is, how sure that is, and what it changed. */
const newer = useNewerExports();
const open = useSet();
const chosen = reactive<Record<number, string>>({});
const options = computed(() => open.lines.map((l) => ({ value: l.row.key, label: l.title })));

const SAID: Readonly<Record<Newer['state'], string>> = {
  waits: '',
  taken: 'taken as the newer export',
  added: 'a new song of the set',
  left: 'left',
  same: 'the song has this file already',
  unread: 'could not be read',
  busy: 'its job is open in another tab: close it there',
};
function sayChange({ before, after }: Newer): string {
  if (!after) return '';
  const said = [];
  const [a, b] = [before?.tally.stops ?? 0, after.tally.stops];
  if (a !== b) said.push(`stops ${a} → ${b}`);
  if (before && before.kept !== after.kept)
    said.push(`notes kept ${before.kept} → ${after.kept} %`);
  if (after.choices > 0) said.push(`${after.choices} to choose`);
  return said.join(', ') || 'its plan runs as before';
}
</script>

<template>
  <section class="newer" aria-label="Files for this set">
    <header>
      <h2>Files for this set</h2>
      <NButton size="small" quaternary @click="newer.close()">Close the list</NButton>
    </header>
    <table>
      <thead>
        <tr>
          <th>File</th>
          <th>Song</th>
          <th>Found by</th>
          <th>What happened</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, n) in newer.rows" :key="n">
          <td class="file">{{ r.file }}</td>
          <td>
            <span v-if="r.state !== 'waits'" class="serif">{{ r.title || '–' }}</span>
            <NSelect
              v-else
              size="small"
              :value="chosen[n] ?? r.song"
              :options="options"
              placeholder="None of them"
              :aria-label="`Song of ${r.file}`"
              @update:value="(v: string) => (chosen[n] = v)"
            />
          </td>
          <td class="soft">
            {{
              r.by === null
                ? '–'
                : `${r.by === 'name' ? 'its name' : 'its music'}, ${Math.floor(r.sure * 100)} %`
            }}
          </td>
          <td>
            <template v-if="r.state === 'waits'">
              <NButton
                size="tiny"
                :disabled="!(chosen[n] ?? r.song)"
                @click="newer.useAs(n, (chosen[n] ?? r.song)!)"
                >Newer export</NButton
              >
              <NButton size="tiny" @click="newer.addAsSong(n)">New song</NButton>
              <NButton size="tiny" quaternary @click="newer.leave(n)">Leave</NButton>
            </template>
            <template v-else>
              {{ SAID[r.state]
              }}<span v-if="r.state === 'taken'" class="soft">: {{ sayChange(r) }}</span>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.newer {
  margin-bottom: 18px;
  padding: 10px 14px 12px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--page);
}

header {
  display: flex;
  justify-content: space-between;
}

h2 {
  font-size: 16px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th {
  color: var(--ink-2);
  font-size: 12px;
  font-weight: 400;
  text-align: left;
}

td {
  padding: 4px 10px 4px 0;
  border-top: 1px solid var(--line);
}

.file {
  overflow-wrap: anywhere;
}
</style>
