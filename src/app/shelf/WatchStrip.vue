<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, ref } from 'vue';
import { count } from '../../core/target/words';
import { useSet } from '../stores/set';
import { useWatching, type Came } from '../stores/watching';

/** The folder that is watched: what came in last, and what waits to be told what it is. */
const watching = useWatching();
const set = useSet();
const showAll = ref(false);
const waits = computed(() => watching.came.filter((c) => c.state === 'new'));
const last = computed(() => watching.came.find((c) => c.state !== 'new') ?? null);
const SAID: Readonly<Record<Came['state'], string>> = {
  taken: 'taken',
  added: 'a new job',
  new: 'waits',
  left: 'left',
  busy: 'its job is open in another tab',
  unread: 'could not be read',
};
const sayLast = ({ name, state, title, ms }: Came) =>
  state === 'taken'
    ? `${name}: newer export of “${title}”${ms === null ? '' : `, ${(ms / 1000).toFixed(1)} s`}`
    : `${name}: ${SAID[state]}`;
function sayAccept({ title }: Came): string {
  if (title !== '') return `Newer export of “${title}”`;
  return set.set ? `A new song of “${set.set.title}”` : 'A new job';
}
</script>

<template>
  <section v-if="watching.folder" class="watch" aria-label="Watched folder">
    <p>
      <strong>{{ watching.lost ? 'The server does not answer:' : 'Watching' }}</strong>
      {{ watching.folder }}
      <span v-if="last" class="soft" role="status">· {{ sayLast(last) }}</span>
      <button v-if="waits.length > 0" class="link" type="button" @click="showAll = !showAll">
        {{ count(waits.length, 'file') }} {{ waits.length === 1 ? 'waits' : 'wait' }}
      </button>
      <span v-if="watching.passed.length > 0" class="soft" :title="watching.passed.join('\n')">
        · {{ count(watching.passed.length, 'file') }} passed over
      </span>
    </p>
    <ul v-if="showAll && waits.length > 0">
      <li v-for="c in waits" :key="c.name">
        <span>{{ c.name }}</span>
        <NButton size="tiny" @click="watching.accept(c)">{{ sayAccept(c) }}</NButton>
        <NButton size="tiny" quaternary @click="watching.leave(c)">Leave</NButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.watch {
  padding: 5px 14px;
  border-top: 1px solid var(--line);
  background: var(--band);
}

ul {
  max-height: 30vh;
  margin: 4px 0 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 2px 0;
}
</style>
