<script setup lang="ts">
import { NButton, NProgress } from 'naive-ui';
import { computed, onBeforeUnmount } from 'vue';
import { plain } from '../../core/target/words';
import { useReceiving } from '../stores/receiving';

/** Receive by sound: as the far end of the link hears it. */
const receiving = useReceiving();
const left = computed(() =>
  receiving.lengthSeconds === null
    ? null
    : Math.max(0, receiving.lengthSeconds - receiving.seconds),
);
const share = computed(() => {
  if (receiving.from === 'microphone')
    return receiving.total ? (receiving.frames.good / receiving.total) * 100 : 0;
  return receiving.lengthSeconds ? (receiving.seconds / receiving.lengthSeconds) * 100 : 0;
});
onBeforeUnmount(() => receiving.rest());
</script>

<template>
  <section class="receive" aria-label="Receive by sound">
    <h3 class="serif">Receive by sound</h3>
    <div class="row">
      <NButton size="small" @click="receiving.hear(false)">Hear the delivered sound</NButton>
      <NButton size="small" @click="receiving.hear(true)">At once</NButton>
      <NButton size="small" @click="receiving.listen()">By the microphone</NButton>
      <NButton v-if="receiving.from !== 'rest'" size="small" @click="receiving.rest()"
        >Stop</NButton
      >
    </div>
    <p v-if="receiving.problem" class="wax" role="alert">{{ receiving.problem }}</p>
    <template v-if="receiving.from !== 'rest'">
      <NProgress
        type="line"
        :percentage="Math.round(share)"
        :show-indicator="false"
        :height="6"
        aria-label="How much came through"
      />
      <dl>
        <dt>Level</dt>
        <dd>
          <meter min="0" max="1" low="0.08" high="0.97" optimum="0.5" :value="receiving.level" />
        </dd>
        <dt>Frames through</dt>
        <dd data-testid="frames-good">
          {{ plain(receiving.frames.good)
          }}{{ receiving.total === null ? '' : ` of ${plain(receiving.total)}` }}
        </dd>
        <dt>Frames garbled</dt>
        <dd data-testid="frames-bad">{{ plain(receiving.frames.bad) }}</dd>
        <dt>{{ left === null ? 'Listened' : 'Left' }}</dt>
        <dd>{{ (left ?? receiving.seconds).toFixed(1) }} s</dd>
      </dl>
      <p class="serif" role="status" data-testid="receive-says">{{ receiving.says }}</p>
    </template>
  </section>
</template>

<style scoped>
.receive {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}

h3 {
  margin: 0;
  font-size: 15px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 0;
}

dd {
  margin: 0;
  text-align: right;
}

meter {
  width: 120px;
}

.wax {
  color: var(--wax);
}
</style>
