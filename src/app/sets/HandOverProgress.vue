<script setup lang="ts">
import { useSetHandover } from '../stores/set-handover';

/** How far a set is on its way out. */
const out = useSetHandover();
</script>

<template>
  <p v-if="out.busy" class="busy" role="status">
    {{ out.busy.says }} ({{ out.busy.done }} of {{ out.busy.total }})
    <button class="link" type="button" @click="out.cancel()">Cancel</button>
  </p>
</template>

<style scoped>
.busy {
  margin-top: 14px;
}
</style>
