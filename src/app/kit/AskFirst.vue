<script setup lang="ts">
import { NButton } from 'naive-ui';
import { ref } from 'vue';
import DialogCard from './DialogCard.vue';

/** Something that cannot be undone is asked about first: what opens it is the slot. */
defineProps<{ title: string; says: string; yes: string }>();
const emit = defineEmits<{ yes: [] }>();
const asking = ref(false);
function agree() {
  asking.value = false;
  emit('yes');
}
</script>

<template>
  <slot :ask="() => (asking = true)" />
  <DialogCard v-if="asking" :title="title" :width="460" @close="asking = false">
    <p class="serif">{{ says }}</p>
    <div class="buttons">
      <NButton type="primary" @click="agree">{{ yes }}</NButton>
      <NButton quaternary @click="asking = false">Keep it</NButton>
    </div>
  </DialogCard>
</template>

<style scoped>
.buttons {
  display: flex;
  gap: 10px;
  margin-top: 16px;
}
</style>
