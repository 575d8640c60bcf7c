<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, nextTick, ref } from 'vue';
import { useRoute } from 'vue-router';
import { isUnsaid } from '../../core/target/unsaid';
import { STAGES, type Stage } from '../stages/stages';
import { useJob } from '../stores/job';

const props = defineProps<{ stage: Stage }>();
const job = useJob();
const editing = ref(false);
const route = useRoute();
/** A job that was opened from a set stays in it, whichever stage is looked at. */
const ofSet = computed(() => {
  const { set, row, on } = route.query;
  return set ? { set, row, ...(on ? { on } : {}) } : {};
});
const titleButton = ref<HTMLElement>();

/** Stops that a stage can mend; Proof counts them all. */
const knots = computed(() => {
  const open = job.findings.filter((f) => f.severity === 'stop' && f.reason === null);
  const stopped = job.standing === 'stopped';
  const stands = {
    stops: (rules: ReadonlySet<string> | null) =>
      rules ? open.filter((f) => rules.has(f.rule)).length : open.length,
    // Nothing is in order before it is said what it is for.
    judged: job.shown !== null && !isUnsaid(job.target) && !stopped,
    stopped,
    handovers: job.plan?.handovers ?? 0,
  };
  return STAGES.map(({ id: stage, name, state }) => {
    const { is, says } = state(stands);
    return { stage, name, state: is, says };
  });
});

/** Esc takes the field away, and with it the focus: what was typed is not meant then. */
let givenUp = false;
function begin() {
  givenUp = false;
  editing.value = true;
}
function giveUp() {
  givenUp = true;
  editing.value = false;
  void backToTitle();
}
/** The field goes, and what had the focus with it. */
async function backToTitle() {
  await nextTick();
  if (document.activeElement === document.body) titleButton.value?.focus();
}
function rename(event: Event) {
  if (givenUp || !editing.value) return;
  editing.value = false;
  void job.rename((event.target as HTMLInputElement).value);
  void backToTitle();
}
</script>

<template>
  <header class="head">
    <input
      v-if="editing"
      class="title"
      :value="job.record?.title"
      aria-label="Title of the job"
      maxlength="200"
      autofocus
      @blur="rename"
      @keydown.enter="rename"
      @keydown.esc="giveUp"
    />
    <h1 v-else class="title" :class="{ long: (job.record?.title.length ?? 0) > 24 }">
      <button
        ref="titleButton"
        class="plain"
        type="button"
        :title="`${job.record?.title ?? ''}: change the title`"
        :disabled="job.readOnly"
        @click="begin"
      >
        <span class="called">{{ job.record?.title ?? '…' }}</span>
      </button>
    </h1>
    <nav class="thread" aria-label="Stages">
      <RouterLink
        v-for="{ stage: to, name, state, says } in knots"
        :key="to"
        class="knot"
        :class="[state, { here: to === props.stage }]"
        :to="{
          path: `/job/${job.record?.id ?? $route.params['id']}/${to}`,
          query: ofSet,
        }"
        :aria-current="to === props.stage ? 'step' : undefined"
        :title="says"
      >
        <span class="dot" aria-hidden="true"></span>
        {{ name }}<span class="sr">, {{ says }}</span>
      </RouterLink>
    </nav>
    <div class="undo">
      <NButton
        size="small"
        :disabled="!job.plan?.past.length || job.readOnly"
        :title="job.plan?.past.length ? `Undo: ${job.plan.now.did}` : 'Nothing to undo'"
        @click="job.undo()"
      >
        Undo
      </NButton>
      <NButton
        size="small"
        :disabled="!job.plan?.future.length || job.readOnly"
        :title="
          job.plan?.future.length ? `Redo: ${job.plan.future[0]!.did}` : 'Nothing to do again'
        "
        @click="job.redo()"
      >
        Redo
      </NButton>
    </div>
  </header>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: minmax(180px, 1fr) auto minmax(140px, 1fr);
  gap: 16px;
  align-items: center;
  padding: 0 14px;
  border-bottom: 1px solid var(--line);
}

.title {
  min-width: 0;
  overflow: hidden;
  font: 600 20px/1.2 var(--serif);
  text-overflow: ellipsis;
  white-space: nowrap;
}

/* Forty letters are read beside the stages: in two lines. */
.title.long {
  font-size: 15px;
  line-height: 19px;
  white-space: normal;
}

.title.long .called {
  display: -webkit-box;
  overflow: hidden;
  overflow-wrap: anywhere;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}

.title .plain {
  text-align: left;
  cursor: text;
  font: inherit;
}

input.title {
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

.thread {
  display: flex;
}

.knot {
  position: relative;
  width: 88px;
  padding-top: 17px;
  color: var(--ink-2);
  font-size: 13px;
  text-align: center;
  text-decoration: none;
}

.knot + .knot::before {
  position: absolute;
  top: 8px;
  right: calc(50% + 9px);
  width: 70px;
  height: 1px;
  background: var(--line);
  content: '';
}

.dot {
  position: absolute;
  top: 3px;
  left: 50%;
  width: 11px;
  height: 11px;
  margin-left: -5.5px;
  border: 2px solid var(--ink-2);
  border-radius: 50%;
  background: var(--paper);
}

.order .dot {
  border-color: var(--moss);
  background: var(--moss);
}

.stops .dot {
  border-color: var(--wax);
  background: var(--wax);
}

.here {
  color: var(--ink);
  font-weight: 600;
}

.here .dot {
  box-shadow:
    0 0 0 3px var(--paper),
    0 0 0 4px var(--ink-2);
}

.undo {
  display: flex;
  gap: 8px;
  justify-content: flex-end;
}

@media (width <= 1020px) {
  .head {
    grid-template-columns: minmax(90px, 1fr) auto auto;
    gap: 8px;
  }

  .knot {
    width: 70px;
    font-size: 12px;
  }

  .knot + .knot::before {
    width: 52px;
  }
}

@media (width <= 720px) {
  .head {
    grid-template-columns: minmax(0, 1fr) auto;
    padding: 6px 14px;
  }

  .thread {
    grid-row: 2;
    grid-column: 1 / -1;
    justify-content: space-between;
  }

  .knot {
    width: 84px;
  }

  .knot + .knot::before {
    display: none;
  }
}
</style>
