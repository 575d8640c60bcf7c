<script setup lang="ts">
import { NButton } from 'naive-ui';
import { ref } from 'vue';
import { count } from '../../core/target/words';
import DialogCard from '../kit/DialogCard.vue';
import { useMendSet } from '../stores/mend-set';
import { useSet } from '../stores/set';

/** Every song mended, as far as is said here. */
const emit = defineEmits<{ close: []; open: [key: string] }>();
const mending = useMendSet();
const open = useSet();
const accept = ref(false);
mending.begin();
</script>

<template>
  <DialogCard title="Mend every song" :width="600" @close="emit('close')">
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
        :type="mending.said ? 'default' : 'primary'"
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
      {{ mending.busy.done }} of {{ count(mending.busy.total, 'song') }}
      <button class="link" type="button" @click="mending.cancel()">Cancel</button>
    </p>
    <p v-if="mending.said" role="status">{{ mending.said }}</p>
    <p v-for="p in mending.notDone" :key="p" class="problem">{{ p }}</p>
    <ul v-if="mending.said && mending.rows.length > 0" class="songs" aria-label="What it came to">
      <li v-for="r in mending.rows" :key="r.key">
        <button class="link serif by-letter" type="button" @click="emit('open', r.key)">
          {{ r.title }}
        </button>
        <span class="soft small">{{ r.says }}</span>
      </li>
    </ul>
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

.songs {
  max-height: 40vh;
  margin: 12px 0 0;
  padding: 0;
  overflow: auto;
  border-top: 1px solid var(--line);
  list-style: none;
}

.songs li {
  display: grid;
  gap: 2px;
  justify-items: start;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
</style>
