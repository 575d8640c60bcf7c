<script setup lang="ts">
import { Eye } from '@lucide/vue';
import { NButton, NInput } from 'naive-ui';
import { computed, ref } from 'vue';
import type { FindingView, MendView } from '../../worker/run-protocol';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { applyMend } from './apply';
import { sayCosts } from './costs';
import BeforeAfter from './BeforeAfter.vue';
import HearWays from './HearWays.vue';
import SeverityMark from './SeverityMark.vue';
import SourceMark from '../parts/SourceMark.vue';

const props = defineProps<{
  finding: FindingView & { number: number; reason: string | null };
}>();
const job = useJob();
const looking = useLooking();
const asking = ref(false);
const reason = ref('');
const source = computed(
  () => job.shown?.delivered.parts.find((p) => p.id === props.finding.part)?.ref.source ?? null,
);
const open = computed(() => looking.finding === props.finding.key);
const trials = computed(() => job.trials[props.finding.key] ?? []);

const ranked = computed(() => job.rankedMends(props.finding));

/** The first way that can be gone. */
const first = computed(() => ranked.value.find(({ i }) => !trials.value[i]?.refused) ?? null);

/** The ways of a choice as they are heard beside the source: by their numbers in the list. */
const heard = computed(() =>
  ranked.value.flatMap(({ mend, i }, rank) =>
    trials.value[i]?.refused
      ? []
      : [{ id: mend.title, title: `Way ${rank + 1}`, steps: mend.steps }],
  ),
);

function apply(mend: MendView) {
  applyMend(props.finding, mend);
}

function leave() {
  job.leaveAsIs(props.finding.key, reason.value.trim(), props.finding.title);
  asking.value = false;
  reason.value = '';
}
</script>

<template>
  <article
    class="note"
    :class="[finding.severity, { open, left: finding.reason !== null }]"
    :data-finding="finding.key"
    :data-code="finding.code"
    @click="looking.lookAt(finding.key)"
  >
    <header>
      <SeverityMark
        :severity="finding.severity"
        :text="finding.number"
        :quiet="finding.reason !== null"
      />
      <h3>
        <button class="plain" type="button" :aria-expanded="open">
          <span class="sr">{{ finding.severity }} {{ finding.number }}: </span>{{ finding.title }}
        </button>
      </h3>
    </header>
    <p class="where soft"><SourceMark v-if="source" :source="source" /> {{ finding.where }}</p>
    <p class="serif">{{ finding.wrong }} {{ finding.then }}</p>
    <p v-if="finding.reason !== null" class="reason">
      Left as is: {{ finding.reason }}
      <button
        class="link"
        type="button"
        :disabled="job.readOnly"
        @click.stop="job.takeBack(finding.key, finding.title)"
      >
        Take back
      </button>
    </p>
    <div v-else-if="asking" class="leave" @click.stop>
      <NInput
        v-model:value="reason"
        size="small"
        placeholder="Why it may stay; printed in the receipt"
        :maxlength="500"
        :input-props="{ 'aria-label': 'Reason to leave it as is' }"
        autofocus
        @keydown.enter="reason.trim() && leave()"
        @keydown.esc="asking = false"
      />
      <div class="row">
        <NButton size="small" type="primary" :disabled="!reason.trim()" @click="leave">
          Leave as is
        </NButton>
        <NButton size="small" quaternary @click="asking = false">Not now</NButton>
      </div>
    </div>
    <template v-else>
      <p v-if="finding.choice" class="choice">{{ finding.choice }}</p>
      <template v-for="({ mend, i }, rank) in open ? ranked : ranked.slice(0, 1)" :key="mend.title">
        <div class="mend">
          <NButton
            size="small"
            :type="rank === 0 ? 'primary' : 'default'"
            :disabled="job.readOnly || !!trials[i]?.refused"
            @click.stop="apply(mend)"
          >
            {{ mend.title }}
          </NButton>
          <button
            v-if="open"
            class="icon"
            type="button"
            :aria-pressed="looking.isTried(mend)"
            :aria-label="`Look at it first: ${mend.title}`"
            title="Look at it first, without changing the plan"
            :disabled="!!trials[i]?.refused"
            @click.stop="looking.tryOut(mend)"
          >
            <Eye :size="16" />
          </button>
          <span v-if="open || rank === 0" class="costs soft">{{ sayCosts(trials[i]) }}</span>
        </div>
        <BeforeAfter v-if="open && rank === 0 && first" :finding="finding" :mend="first.mend" />
      </template>
      <HearWays
        v-if="open && finding.choice && heard.length > 1"
        label="Hear the ways of this choice"
        :ways="heard"
        @click.stop
      />
      <p v-if="finding.noMend" class="soft">{{ finding.noMend }}</p>
      <div class="foot">
        <span v-if="!open && finding.mends.length > 1" class="soft"
          >and {{ finding.mends.length - 1 }} more
          {{ finding.mends.length === 2 ? 'way' : 'ways' }}</span
        >
        <button
          v-if="finding.severity !== 'remark'"
          class="link"
          type="button"
          :disabled="job.readOnly"
          @click.stop="asking = true"
        >
          Leave as is…
        </button>
      </div>
    </template>
  </article>
</template>

<style scoped>
.choice {
  margin-top: 4px;
  color: var(--ochre-text);
  font-weight: 500;
}

.note {
  overflow-wrap: anywhere;
  padding: 9px 11px 8px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--page);
  content-visibility: auto;
  contain-intrinsic-size: auto 150px;
  cursor: pointer;
}

.open {
  border-color: var(--ink);
  box-shadow: 0 0 0 1px var(--ink);
}

.left {
  background: none;
}

header {
  display: flex;
  gap: 8px;
  align-items: center;
}

h3 {
  margin: 0;
  font: 600 14px/1.25 var(--sans);
}

h3 .plain {
  font: inherit;
  text-align: left;
}

.where {
  margin: 3px 0;
  font-size: 12px;
}

.mend {
  display: grid;
  grid-template-columns: minmax(0, max-content) minmax(28px, 1fr);
  gap: 0 4px;
  align-items: center;
  justify-content: start;
  margin-top: 7px;
}

.mend :deep(.n-button__content) {
  min-width: 0;
  white-space: normal;
}

.mend :deep(.n-button) {
  height: auto;
  min-height: 28px;
  padding: 4px 10px;
  line-height: 1.3;
  text-align: left;
  white-space: normal;
}

.costs {
  grid-column: 1 / -1;
  margin-top: 2px;
  font-size: 12px;
}

.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-top: 5px;
  font-size: 12px;
}

.foot .link {
  margin-left: auto;
}

.reason {
  margin-top: 6px;
  padding-left: 8px;
  border-left: 3px solid var(--line);
}

.leave {
  margin-top: 8px;
}

.row {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
</style>
