<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import type { MendReach } from '../../core/plan/mend';
import type { MendAllReply } from '../../worker/protocol';
import DialogCard from '../kit/DialogCard.vue';
import { sayReach } from '../kit/say-reach';
import HearWays from '../margin/HearWays.vue';
import { useJob } from '../stores/job';

/** How far mending may go, each reach with what it would come to, worked out before it is chosen. */
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const accept = ref(true);
const found = shallowRef<Readonly<Record<MendReach, MendAllReply>> | null>(null);

const REACHES: readonly { reach: MendReach; title: string }[] = [
  { reach: 'lossless', title: 'What loses nothing' },
  { reach: 'keep', title: 'What keeps every note' },
  { reach: 'drop', title: 'Everything, dropping what cannot stay' },
];

/** Whoever plays a stretch of a part alone leaves the rest of it: then not every note is kept. */
const loses = (reach: MendReach): boolean => {
  const r = found.value?.[reach];
  return r !== undefined && r.kept < r.seated;
};
const titleOf = (reach: MendReach, title: string) =>
  reach === 'keep' && loses(reach) ? 'What drops notes only by who plays' : title;

let running: { cancel(): void } | null = null;
async function workOut() {
  found.value = null;
  running?.cancel();
  const call = job.reachesOf(accept.value);
  running = call;
  found.value = call ? await call.result : null;
}
onMounted(workOut);
watch(accept, workOut);
onBeforeUnmount(() => running?.cancel());

/** Each reach that does something, as it would sound; those that do the same are one. */
const HEARD: Record<MendReach, string> = {
  lossless: 'Loses nothing',
  keep: 'Keeps all',
  drop: 'Drops',
};
const ways = computed(() => {
  const seen = new Set<string>();
  return REACHES.flatMap(({ reach }) => {
    const steps = found.value?.[reach].applied.flatMap((a) => a.steps) ?? [];
    const key = JSON.stringify(steps);
    if (steps.length === 0 || seen.has(key)) return [];
    seen.add(key);
    const heard = reach === 'keep' && loses(reach) ? 'By who plays' : HEARD[reach];
    return [{ id: `${reach} ${accept.value}`, title: heard, steps }];
  });
});

const comesTo = (r: MendAllReply) => sayReach(r, job.target?.notes?.none ?? false);
/** A button that does nothing is not the first one. */
const isNothing = computed(() => {
  const all = found.value;
  return all !== null && REACHES.every(({ reach }) => all[reach].applied.length === 0);
});
async function mend(reach: MendReach) {
  emit('close');
  await job.mendAll(reach, accept.value);
}
</script>

<template>
  <DialogCard title="Which mends should be applied?" :width="560" @close="emit('close')">
    <ul class="reaches">
      <li v-for="{ reach, title } in REACHES" :key="reach">
        <NButton
          :type="reach === 'keep' && !isNothing ? 'primary' : 'default'"
          :disabled="job.readOnly || !found || found[reach].applied.length === 0"
          @click="mend(reach)"
        >
          {{ titleOf(reach, title) }}
        </NButton>
        <span class="soft">{{ found ? comesTo(found[reach]) : 'being worked out…' }}</span>
      </li>
    </ul>
    <HearWays v-if="ways.length > 0" class="hear" label="Hear what mending does" :ways="ways" />
    <NCheckbox v-model:checked="accept">
      Where a choice is needed, take the likeliest candidate
    </NCheckbox>
    <p v-if="isNothing">
      Nothing is left that can be mended all at once: the margin notes have what needs a decision.
    </p>
    <p class="soft">
      Cautions are mended only by what loses nothing. It is one change: undo takes it back.
    </p>
  </DialogCard>
</template>

<style scoped>
.reaches {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  margin: 0 0 16px;
  padding: 0;
  list-style: none;
}

.reaches li {
  display: grid;
  gap: 3px;
  justify-items: start;
}

.hear {
  margin: 0 0 14px;
}

p {
  margin-top: 8px;
}
</style>
