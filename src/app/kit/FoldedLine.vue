<script setup lang="ts">
/** What is settled, as one line that says how it stands; opened, all of it stands under the line. */
defineProps<{
  title: string;
  /** How it stands: cut where there is no room. */
  says: string;
}>();
const open = defineModel<boolean>('open', { required: true });
function turned(event: Event) {
  open.value = (event.target as HTMLDetailsElement).open;
}
</script>

<template>
  <details class="folded" :open="open" @toggle="turned">
    <summary :title="says">
      <span class="title">{{ title }}</span>
      <span class="says">{{ says }}</span>
    </summary>
    <div class="all"><slot /></div>
  </details>
</template>

<style scoped>
.folded {
  min-width: 0;
  border-bottom: 1px solid var(--line);
}

summary {
  display: flex;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
  padding: 5px 0;
  cursor: pointer;
}

summary::before {
  flex: none;
  width: 9px;
  color: var(--ink-2);
  content: '›';
  font: 600 15px/15px var(--sans);
}

[open] > summary::before {
  transform: rotate(90deg);
}

.title {
  flex: none;
  font: 600 14px var(--serif);
}

.says {
  overflow: hidden;
  color: var(--ink-2);
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.all {
  padding-bottom: 8px;
}
</style>
