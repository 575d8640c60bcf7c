<script setup lang="ts">
import { KEYS } from './keys';
import DialogCard from '../kit/DialogCard.vue';

defineEmits<{ close: [] }>();
</script>

<template>
  <DialogCard title="Keys" :width="640" @close="$emit('close')">
    <dl class="keys">
      <template v-for="key in KEYS" :key="key.says">
        <dt>
          <kbd v-for="k in key.shown" :key="k">{{ k }}</kbd>
        </dt>
        <dd>{{ key.says }}</dd>
      </template>
    </dl>
    <p class="soft">
      <a href="/notices.txt" target="_blank">Packages and fonts that this is built with</a>
    </p>
  </DialogCard>
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
