<script setup lang="ts">
import { NButton } from 'naive-ui';
import { useEventListener, useManualRefHistory, watchDebounced } from '@vueuse/core';
import type { ExampleResult } from '../../core/handover/target-pack';
import { computed, defineAsyncComponent, onMounted, ref, shallowRef } from 'vue';
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router';
import { placeOf, plainText } from '../../core/target/sentences';
import { parseTarget, parseTargetText, type TargetProblem } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';
import HeldJob from './HeldJob.vue';
import SentencePage from './sentences/SentencePage.vue';
import DialogCard from '../kit/DialogCard.vue';

/** Its parts are loaded when text is asked for, and one by one: evaluated at once they hold up the hand. */
const JsonEditor = defineAsyncComponent(async () => {
  await import('@codemirror/state');
  await import('@codemirror/view');
  await import('@codemirror/language');
  await import('@codemirror/autocomplete');
  return import('./JsonEditor.vue');
});

/** Changes a target where its sentences stand, or as text; a job's findings follow every word. */
const route = useRoute();
const router = useRouter();
const targets = useTargets();
const shelf = useShelf();
const id = computed(() => String(route.params['id']));

const draft = shallowRef<Record<string, unknown>>({});
const text = ref('');
const problems = shallowRef<readonly TargetProblem[]>([]);
const learnt = shallowRef<ReadonlySet<string>>(new Set());
const evidence = computed(() => targets.rowOf(id.value)?.evidence ?? []);
const withText = ref(false);
const { undo, redo, canUndo, canRedo, commit, clear } = useManualRefHistory(draft, {
  capacity: 200,
});
const changed = ref(false);
/** The text of the target as it is kept. */
const kept = ref('');
const said = ref('');
const loaded = ref(false);
/** What stands in the text editor is no JSON: the fields show what it said before. */
const broken = ref(false);
/** Asked when what was changed would be lost; answers whether to leave. */
const leaving = shallowRef<((leave: boolean) => void) | null>(null);
function answer(leave: boolean) {
  leaving.value?.(leave);
  leaving.value = null;
}

onMounted(async () => {
  await targets.load();
  const target = targets.find(id.value);
  if (target && !targets.isBuiltIn(id.value)) {
    take(target as never);
    kept.value = text.value;
    // What is undone leads back to here, and no further.
    commit();
    clear();
    learnt.value = new Set(targets.rowOf(id.value)?.learnt ?? []);
    changed.value = false;
  }
  loaded.value = true;
});

function take(next: Record<string, unknown>) {
  draft.value = next;
  broken.value = false;
  text.value = `${JSON.stringify(next, null, 2)}\n`;
  problems.value = parseTarget(next).problems;
  changed.value = text.value !== kept.value;
}

function sentenceChanged(next: Record<string, unknown>, path: string) {
  // A number that somebody has set is no longer only learnt.
  learnt.value = new Set([...learnt.value].filter((p) => p !== path));
  take(next);
  commit();
}
/** What is confirmed is kept at once: nothing of the target has changed. */
function confirm(paths: readonly string[]) {
  learnt.value = new Set([...learnt.value].filter((p) => !paths.includes(p)));
  void targets.confirm(id.value, paths);
}
function backOrOn(step: () => void) {
  step();
  take(draft.value);
}
useEventListener(window, 'keydown', (event) => {
  if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
  const own = event.target as HTMLElement;
  // In a field the browser undoes what is typed there.
  if (own.closest('input, textarea, [contenteditable="true"]')) return;
  const key = event.key.toLowerCase();
  const isRedo = key === 'y' || (key === 'z' && event.shiftKey);
  if (!isRedo && key !== 'z') return;
  event.preventDefault();
  if (isRedo) {
    if (canRedo.value) backOrOn(redo);
  } else if (canUndo.value) backOrOn(undo);
});
/** A problem in the words of its sentence; a path of the data is for the text alone. */
const toldProblems = computed(() =>
  problems.value.map(({ path, says }) => {
    const place = placeOf(path);
    const where = place?.sentence ? plainText(place.sentence, draft.value) : place?.subject.title;
    return { path, says, where: where ?? '', to: place ? `say-${place.subject.id}` : null };
  }),
);
const showPlace = (to: string | null) =>
  to && document.getElementById(to)?.scrollIntoView({ block: 'start' });

function textChanged(next: string) {
  if (next === text.value) return;
  text.value = next;
  const result = parseTargetText(next);
  problems.value = result.problems;
  changed.value = next !== kept.value;
  said.value = '';
  const data = objectIn(next);
  broken.value = data === null;
  if (data) {
    draft.value = data;
    commit();
  }
}

function objectIn(source: string): Record<string, unknown> | null {
  try {
    const data: unknown = JSON.parse(source);
    return typeof data === 'object' && data !== null && !Array.isArray(data)
      ? (data as Record<string, unknown>)
      : null;
  } catch {
    return null;
  }
}

const valid = computed((): Target | null => {
  const result = parseTarget(draft.value);
  return problems.value.length === 0 && result.target ? result.target : null;
});
/** What its examples say of the draft, told before it is saved. */
const examples = shallowRef<readonly ExampleResult[] | null>(null);
watchDebounced(
  valid,
  async (now) => {
    examples.value = now ? await targets.examplesOf({ ...now, id: id.value }) : null;
  },
  { debounce: 300, immediate: true },
);
const brokenExamples = computed(() => (examples.value ?? []).filter((e) => !e.ok));
const byPath = computed(() => new Map(problems.value.map((p) => [p.path, p.says])));
const using = computed(() => targets.jobsOf(id.value, shelf.jobs));

/** Says whether it is kept. */
async function save(): Promise<boolean> {
  if (!valid.value) return false;
  const [major, minor, patch] = valid.value.version.split('.').map(Number);
  const before = targets.find(id.value);
  const same = before?.version === valid.value.version;
  const next = {
    ...valid.value,
    id: id.value,
    ...(same && changed.value ? { version: `${major}.${minor}.${(patch ?? 0) + 1}` } : {}),
  };
  if (!(await targets.put(next, [...learnt.value]))) {
    said.value = '';
    return false;
  }
  take(next as never);
  kept.value = text.value;
  changed.value = false;
  said.value = `Saved as ${next.version}.`;
  return true;
}

async function give() {
  if (changed.value && !(await save())) return;
  const target = targets.find(id.value);
  if (!target) return;
  await targets.giveToJobs(target, using.value);
  said.value = `${using.value.length === 1 ? 'One job holds' : `${using.value.length} jobs hold`} their plans against it now.`;
}

/** What was changed and is not saved is not lost without a word: neither to a link nor to a reload. */
onBeforeRouteLeave(() => {
  if (!changed.value) return true;
  return new Promise<boolean>((resolve) => (leaving.value = resolve));
});
useEventListener(window, 'beforeunload', (event) => {
  if (changed.value) event.preventDefault();
});
</script>

<template>
  <section v-if="loaded && targets.rowOf(id)" class="editor" aria-labelledby="edit-title">
    <header class="head">
      <div class="titles">
        <p class="soft">
          <RouterLink to="/targets">Targets</RouterLink> ·
          <RouterLink :to="`/targets/${id}`">{{ draft['name'] }}</RouterLink>
        </p>
        <h1 id="edit-title">Edit {{ draft['name'] }}</h1>
      </div>
      <NButton quaternary :disabled="!canUndo" @click="backOrOn(undo)">Undo</NButton>
      <NButton quaternary :disabled="!canRedo" @click="backOrOn(redo)">Redo</NButton>
      <NButton quaternary :aria-pressed="withText" @click="withText = !withText">
        {{ withText ? 'Put the text away' : 'Text beside it' }}
      </NButton>
      <span class="soft said" aria-live="polite">{{ said }}</span>
      <NButton v-if="using.length > 0" :disabled="!valid" @click="give">
        Use it in {{ using.length === 1 ? 'its job' : `its ${using.length} jobs` }}
      </NButton>
      <NButton type="primary" :disabled="!valid || !changed" @click="save">Save</NButton>
    </header>
    <DialogCard v-if="leaving" title="Not saved yet" :width="460" @close="answer(false)">
      <p class="serif">What you changed of {{ draft['name'] }} is not saved.</p>
      <div class="answers">
        <NButton type="primary" @click="answer(false)">Stay</NButton>
        <NButton @click="answer(true)">Leave without it</NButton>
      </div>
    </DialogCard>
    <div class="columns" :class="{ three: withText }">
      <div class="left">
        <p v-if="targets.problem" class="problems" role="alert">
          {{ targets.problem }}
          <button class="link" type="button" @click="targets.save(draft as never)">
            Save the target as a file
          </button>
        </p>
        <ul v-if="problems.length > 0" class="problems" role="alert">
          <li v-for="p in toldProblems.slice(0, 4)" :key="p.path + p.says">
            <button v-if="p.to" type="button" class="link" @click="showPlace(p.to)">
              {{ p.where }}
            </button>
            {{ p.says }}
          </li>
          <li v-if="problems.length > 4">and {{ problems.length - 4 }} more</li>
        </ul>
        <ul v-if="brokenExamples.length > 0" class="problems" role="alert">
          <li>
            {{ brokenExamples.length }} of its {{ examples?.length }} examples
            {{ brokenExamples.length === 1 ? 'is' : 'are' }} no more as said:
          </li>
          <li v-for="e in brokenExamples.slice(0, 4)" :key="e.file">{{ e.file }}: {{ e.says }}</li>
        </ul>
        <div v-if="broken" class="problems">
          <p class="serif">
            What stands in the text is not JSON yet. The sentences say what it was before; what you
            typed stays as it is until then.
          </p>
          <NButton size="small" quaternary @click="take(draft)">
            Throw the text away, and go on from the last that was valid
          </NButton>
        </div>
        <SentencePage
          v-else
          :data="draft"
          :learnt="learnt"
          :evidence="evidence"
          :problems="byPath"
          @change="sentenceChanged"
          @confirm="confirm"
        />
      </div>
      <div v-if="withText" class="left text">
        <JsonEditor :text="text" @change="textChanged" />
      </div>
      <HeldJob
        :id="id"
        class="beside"
        :target="valid"
        :before="targets.find(id) ?? null"
        :loaded="loaded"
      />
    </div>
  </section>
  <section v-else-if="loaded" class="editor">
    <h1>There is nothing to edit here</h1>
    <p class="serif">
      A target that ships with it is not changed: copy it first.
      <RouterLink to="/targets">All targets</RouterLink>
      <button class="link" type="button" @click="router.back()">Back</button>
    </p>
  </section>
</template>

<style scoped>
.editor {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  padding: 14px 20px 0;
}

.head {
  display: flex;
  gap: 12px;
  align-items: end;
  padding-bottom: 10px;
  border-bottom: 1px solid var(--line);
}

.titles {
  flex: 1;
  min-width: 0;
}

.head h1 {
  overflow: hidden;
  font-size: 22px;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.said {
  max-width: 190px;
}

.answers {
  display: flex;
  gap: 10px;
  margin-top: 16px;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  min-height: 0;
}

/* Beside the text what is held stands under both. */
.columns.three {
  grid-template-columns: minmax(0, 5fr) minmax(0, 4fr) 300px;
}

.text {
  padding-left: 12px;
  border-left: 1px solid var(--line);
}

.left {
  min-height: 0;
  overflow: auto;
  padding: 14px 18px 30px 0;
}

/* A small window, or a large one looked at twice as large: one under the other. */
@media (width <= 860px) {
  .editor {
    --sentence-indent: 10px;

    display: block;
    overflow: auto;
  }

  .head {
    flex-wrap: wrap;
  }

  .titles {
    flex-basis: 100%;
  }

  .columns,
  .columns.three {
    grid-template-columns: minmax(0, 1fr);
  }

  .left {
    overflow: visible;
    padding-right: 0;
  }

  .text {
    padding-left: 0;
    border-left: 0;
  }
}

.problems {
  margin: 0 0 12px;
  padding: 8px 12px;
  border-left: 3px solid var(--wax);
  background: var(--page);
  list-style: none;
}
</style>
