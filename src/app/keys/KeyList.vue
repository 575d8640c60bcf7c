<script setup lang="ts">
import { NModal } from 'naive-ui';
import { KEYS } from './keys';

defineEmits<{ close: [] }>();
</script>

<template>
  <NModal
    show
    preset="card"
    title="Keys"
    style="width: 640px"
    @update:show="(show: boolean) => !show && $emit('close')"
  >
    <dl class="keys">
      <template v-for="key in KEYS" :key="key.says">
        <dt>
          <kbd v-for="k in key.shown" :key="k">{{ k }}</kbd>
        </dt>
        <dd>{{ key.says }}</dd>
      </template>
    </dl>
  </NModal>
</template>

<style scoped>
.keys {
  display: grid;
  grid-template-columns: 180px 1fr;
  gap: 7px 14px;
  margin: 0;
}

dd {
  margin: 0;
}

kbd {
  display: inline-block;
  min-width: 22px;
  margin-right: 5px;
  padding: 1px 6px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--band);
  font: 500 12px var(--sans);
  text-align: center;
}
</style>
