<script setup lang="ts">
import { NButton } from 'naive-ui';
import SeverityMark from '../margin/SeverityMark.vue';
import { useSet } from '../stores/set';

/** What is wrong with the songs beside each other; each mend is one change of the set. */
const emit = defineEmits<{ open: [key: string] }>();
const open = useSet();
</script>

<template>
  <aside class="margin" aria-label="Findings of the set">
    <h2>Songs beside each other</h2>
    <p v-if="open.looking" class="soft small">Looked at as far as the songs are known.</p>
    <p v-if="open.findings.length === 0 && !open.looking" class="soft">
      {{
        open.ready.length > 1 ? 'Nothing is in the way.' : 'Nothing to hold against each other yet.'
      }}
    </p>
    <article v-for="f in open.findings" :key="f.key" class="note">
      <header>
        <SeverityMark :severity="f.severity" />
        <h3>{{ f.title }}</h3>
      </header>
      <p>{{ f.says }}</p>
      <p class="songs small">
        <button
          v-for="key in f.songs.slice(0, 4)"
          :key="key"
          class="link"
          type="button"
          @click="emit('open', key)"
        >
          {{ open.lineOf.get(key)?.title }}
        </button>
        <span v-if="f.songs.length > 4" class="soft">and {{ f.songs.length - 4 }} more</span>
      </p>
      <div class="mends">
        <NButton
          v-for="(m, i) in f.mends"
          :key="m.title"
          size="small"
          :type="i === 0 && f.severity === 'stop' ? 'primary' : 'default'"
          @click="open.change(m.change, m.title)"
        >
          {{ m.title }}
        </NButton>
      </div>
    </article>
  </aside>
</template>

<style scoped>
.margin {
  padding: 14px 16px 24px;
  overflow: auto;
  border-left: 1px dashed var(--line);
}

h2 {
  margin-bottom: 8px;
  font-size: 16px;
}

.note {
  margin-bottom: 10px;
  padding: 9px 11px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--page);
}

header {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 4px;
}

h3 {
  font: 600 14px/1.25 var(--sans);
}

.songs {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
}

.songs .link {
  min-width: 0;
  overflow-wrap: anywhere;
  text-align: left;
}

.mends {
  display: grid;
  gap: 6px;
  justify-items: start;
  margin-top: 7px;
}

.mends :deep(.n-button) {
  height: auto;
  min-height: 28px;
  padding: 4px 10px;
  line-height: 1.3;
  text-align: left;
  white-space: normal;
}
</style>
