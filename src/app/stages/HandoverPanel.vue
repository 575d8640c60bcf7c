<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, onMounted, ref, watch } from 'vue';
import { sayKind, sayLater, sayLoss } from '../../core/target/words';
import DialogCard from '../kit/DialogCard.vue';
import { useHandover } from '../stores/handover';
import { isUnsaid } from '../../core/target/unsaid';
import { useJob } from '../stores/job';
import FilePage from './FilePage.vue';
import HandedFiles from './HandedFiles.vue';

const job = useJob();
const handover = useHandover();
onMounted(handover.load);
watch(
  () => job.record?.id,
  () => handover.load(),
);

const stops = computed(() =>
  job.findings.filter((f) => f.severity === 'stop' && f.reason === null),
);
/** The file that is looked into. */
const inside = ref<string | null>(null);
const here = computed(() => handover.rows.filter((r) => r.targetId === job.target?.id));
const last = computed(() => here.value[0]?.receipt ?? null);
/** Receipts of an earlier version have no ledger. */
const inNone = computed(() => (last.value?.ledger ?? []).filter((l) => l.dropped > 0));
const when = (stamp: number) =>
  new Date(stamp).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
</script>

<template>
  <section class="panel" tabindex="0" aria-labelledby="handover-title">
    <h2 id="handover-title">Handover</h2>
    <p v-if="isUnsaid(job.target)" class="serif">
      No target is chosen yet.
      <RouterLink :to="`/job/${job.record?.id}/intake`">Say it at Intake</RouterLink>, and what is
      handed over is written for that.
    </p>
    <p v-else class="serif">
      <template v-if="stops.length > 0">
        {{ stops.length === 1 ? 'One stop is' : `${stops.length} stops are` }} open. You can hand
        over anyway; the receipt says so.
      </template>
      <template v-else-if="job.standing === 'stopped'">
        This plan is not proofed: which stops are open is not known.
      </template>
      <template v-else>No stop is open.</template>
      The files are written, read back, played by a stand-in for the device, and packed with a
      receipt.
    </p>
    <ul v-if="job.shown && job.shown.changes.length > 0" class="lines">
      <li v-for="says in job.shown.changes" :key="says">{{ says }}</li>
      <li v-if="sayLater(job.shown.commonShiftMs)">all {{ sayLater(job.shown.commonShiftMs) }}</li>
    </ul>

    <template v-if="last">
      <h3>Handover {{ here[0]!.number }}</h3>
      <FilePage v-if="inside" :path="inside" @close="inside = null" />
      <HandedFiles :row="here[0]!" @inside="(path) => (inside = path)" />
      <h3>What was left out</h3>
      <ul class="lines">
        <li v-for="p in last.leftOut.parts" :key="p.name">
          {{ p.name }}: {{ p.notes.toLocaleString('en-GB') }} notes
        </li>
        <li v-for="l in last.leftOut.losses" :key="l.what">
          {{ sayLoss(l.count, l.what) }}
        </li>
        <li v-for="l in inNone" :key="l.kind">
          {{ sayKind(l.dropped, l.kind) }} of {{ l.had.toLocaleString('en-GB') }}: in no file
        </li>
        <li
          v-if="last.leftOut.parts.length + last.leftOut.losses.length + inNone.length === 0"
          class="soft"
        >
          Nothing.
        </li>
      </ul>
      <template v-if="last.leftAsIs.length > 0">
        <h3>Left as is</h3>
        <ul class="lines">
          <li v-for="l in last.leftAsIs" :key="l.says">
            {{ l.says }} <span class="soft">Reason: {{ l.reason }}</span>
          </li>
        </ul>
      </template>
    </template>

    <template v-if="job.target && job.target.checklist.length > 0">
      <h3>At the far side</h3>
      <ol class="check serif">
        <li v-for="line in job.target.checklist" :key="line">{{ line }}</li>
      </ol>
    </template>

    <template v-if="here.length > 0">
      <h3>Handed over before</h3>
      <ul class="lines">
        <li v-for="row in here" :key="row.id" class="row">
          <span>{{ row.number }} · {{ when(row.at) }}</span>
          <button class="link" type="button" @click="handover.again(row)">Download again</button>
        </li>
      </ul>
    </template>

    <DialogCard
      v-if="handover.asking"
      title="Stops are open"
      :width="520"
      @close="handover.asking = false"
    >
      <p class="serif">{{ job.target?.name }} will refuse or misplay this:</p>
      <ul class="open">
        <li v-for="f in stops.slice(0, 8)" :key="f.key" class="serif">
          {{ f.title }} <span class="soft">{{ f.where }}</span>
        </li>
        <li v-if="stops.length > 8" class="soft">and {{ stops.length - 8 }} more</li>
      </ul>
      <div class="buttons">
        <NButton type="primary" @click="handover.handOver({ anyway: true })">
          Hand over anyway
        </NButton>
        <NButton @click="handover.asking = false">Go on mending</NButton>
      </div>
    </DialogCard>
  </section>
</template>

<style scoped>
.lines {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}

.lines li {
  padding: 2px 0;
}

.check {
  margin: 0;
  padding-left: 20px;
}

.check li {
  margin-bottom: 4px;
}

.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

.open {
  margin: 8px 0 16px;
  padding-left: 20px;
}

.buttons {
  display: flex;
  gap: 10px;
}
</style>
