<script setup lang="ts">
import { NButton } from 'naive-ui';
import { ref } from 'vue';
import { count } from '../../core/target/words';
import DialogCard from '../kit/DialogCard.vue';
import { useMendSet } from '../stores/mend-set';
import { useSet } from '../stores/set';

/** Every song mended, as far as is said here. */
const emit = defineEmits<{ close: [] }>();
const mending = useMendSet();
const open = useSet();
const accept = ref(false);
mending.said = null;
</script>

<template>
  <DialogCard title="Mend every song" @close="emit('close')">
    <p class="serif">
      Each of the {{ count(open.totals.songs, 'song') }} is mended by its own plan, and each job can
      undo it.
    </p>
    <label class="accept">
      <input v-model="accept" type="checkbox" />
      Where a choice is needed, take the likeliest candidate
    </label>
    <div class="ways">
      <NButton
        type="primary"
        :disabled="mending.busy !== null"
        @click="mending.run('keep', accept)"
      >
        Keep every note
      </NButton>
      <NButton :disabled="mending.busy !== null" @click="mending.run('drop', accept)">
        Drop what cannot stay
      </NButton>
    </div>
    <p v-if="mending.busy" role="status">
      Song {{ mending.busy.done + 1 }} of {{ mending.busy.total }}
      <button class="link" type="button" @click="mending.cancel()">Cancel</button>
    </p>
    <p v-if="mending.said" role="status">{{ mending.said }}</p>
    <p v-for="p in mending.notDone" :key="p" class="problem">{{ p }}</p>
  </DialogCard>
</template>

<style scoped>
.accept {
  display: block;
  margin: 10px 0;
}

.ways {
  display: flex;
  gap: 10px;
  margin-bottom: 10px;
}

.problem {
  color: var(--wax);
}
</style>
