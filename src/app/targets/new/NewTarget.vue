<script setup lang="ts">
import type { Evidence } from '../../../core/target/evidence';
import { SCORE_FILES } from '../../../core/smf/name';
import { NButton, NInput } from 'naive-ui';
import { computed, onMounted, ref, shallowRef } from 'vue';
import { parseTarget } from '../../../core/target/parse';
import type { Data } from '../../../core/target/sentences';
import { strictnessOf } from '../../../core/target/strictness';
import TargetPicture from '../../rehearsal/TargetPicture.vue';
import { useFiles } from '../../kit/use-files';
import { useTargets } from '../../stores/targets';
import SentencePage from '../sentences/SentencePage.vue';
import { learnFrom } from '../learn-from';
import { emptyTarget, QUESTIONS } from './questions';
import { useLeadOn } from '../../kit/use-lead-on';

/** Seven questions, one a card; each can be passed over, and answered finer in its sentences. */
const targets = useTargets();
const leadOn = useLeadOn();
onMounted(targets.load);

const at = ref(0);
const draft = shallowRef<Data>(emptyTarget('my-target'));
const learnt = shallowRef<ReadonlySet<string>>(new Set());
const evidence = shallowRef<readonly Evidence[]>([]);
const answered = shallowRef<ReadonlyMap<string, string>>(new Map());
const problem = ref<string | null>(null);
const working = ref(false);
const question = computed(() => QUESTIONS[at.value]!);
const parsed = computed(() => parseTarget(draft.value));
const lines = computed(() => (parsed.value.target ? strictnessOf(parsed.value.target) : []));
const problems = computed(() => new Map(parsed.value.problems.map((p) => [p.path, p.says])));
const name = computed({
  get: () => String(draft.value['name'] ?? ''),
  set: (now: string) => (draft.value = { ...draft.value, name: now || 'My target' }),
});

function answer(index: number) {
  const { answers, id } = question.value;
  draft.value = answers[index]!.gives(draft.value);
  answered.value = new Map([...answered.value, [id, answers[index]!.name]]);
}
function change(next: Data, path: string) {
  learnt.value = new Set([...learnt.value].filter((p) => p !== path));
  draft.value = next;
}

const confirm = (paths: readonly string[]) =>
  (learnt.value = new Set([...learnt.value].filter((p) => !paths.includes(p))));

const dropping = ref(false);
const choose = useFiles(SCORE_FILES, learn);
/** What good files show is filled in where nobody has said anything yet. */
async function learn(files: File[]) {
  problem.value = null;
  working.value = true;
  const found = await learnFrom(files, name.value);
  working.value = false;
  if ('problem' in found) {
    problem.value = found.problem;
    return;
  }
  const own = draft.value;
  const keep = new Set(['id', 'name', 'summary', 'version', 'schemaVersion', 'checklist', 'words']);
  const filled = Object.entries(found.target as unknown as Data).filter(
    ([key, value]) =>
      !keep.has(key) &&
      (own[key] === undefined || (Array.isArray(own[key]) && (own[key] as []).length === 0)) &&
      value !== undefined,
  );
  draft.value = { ...own, ...Object.fromEntries(filled) };
  const blocks = new Set(filled.map(([key]) => key));
  const isFilled = (path: string) => blocks.has(path.split(/[.[]/)[0]!);
  learnt.value = new Set(found.learnt.filter(isFilled));
  evidence.value = found.evidence.filter((e) => isFilled(e.path));
}
function drop(event: DragEvent) {
  dropping.value = false;
  const files = [...(event.dataTransfer?.files ?? [])];
  if (files.length > 0) void learn(files);
}

async function make() {
  const lead = leadOn();
  await targets.load();
  const { target } = parsed.value;
  if (!target) return;
  const id = targets.freeId(target.name);
  if (await targets.put({ ...target, id }, [...learnt.value], undefined, evidence.value))
    await lead(`/targets/${id}/edit`);
  else problem.value = targets.problem;
}
</script>

<template>
  <section class="new" aria-labelledby="new-title">
    <header class="head">
      <div class="titles">
        <p class="soft"><RouterLink to="/targets">Targets</RouterLink></p>
        <h1 id="new-title">New target</h1>
      </div>
      <label class="called">
        <span class="soft">Called</span>
        <NInput v-model:value="name" size="small" :input-props="{ 'aria-label': 'Its name' }" />
      </label>
      <NButton type="primary" :disabled="!parsed.target" @click="make">
        Make it, and hold a job against it
      </NButton>
    </header>
    <div class="columns">
      <nav aria-label="Questions">
        <ol>
          <li v-for="(q, i) in QUESTIONS" :key="q.id">
            <button type="button" :aria-current="i === at ? 'step' : undefined" @click="at = i">
              {{ q.title }}
            </button>
            <span v-if="answered.has(q.id)" class="soft">{{ answered.get(q.id) }}</span>
          </li>
        </ol>
        <div
          class="good"
          :class="{ dropping }"
          @dragover.prevent="dropping = true"
          @dragleave="dropping = false"
          @drop.prevent="drop"
        >
          <p class="serif">
            Files that it took? Drop them here: what they show is filled in, and marked as learnt.
          </p>
          <NButton size="small" :loading="working" @click="choose()">Choose files</NButton>
        </div>
      </nav>
      <main class="card">
        <h2>{{ question.title }}</h2>
        <p class="serif why">{{ question.why }}</p>
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
        <div class="answers">
          <button
            v-for="(o, i) in question.answers"
            :key="o.name"
            type="button"
            :aria-pressed="answered.get(question.id) === o.name"
            @click="answer(i)"
          >
            <strong>{{ o.name }}</strong>
            <span>{{ o.says }}</span>
          </button>
        </div>
        <SentencePage
          :data="draft"
          :learnt="learnt"
          :evidence="evidence"
          :problems="problems"
          :only="question.subjects"
          @change="change"
          @confirm="confirm"
        />
        <p class="on">
          <NButton :disabled="at === 0" @click="at--">Back</NButton>
          <NButton v-if="at < QUESTIONS.length - 1" @click="at++">
            {{ answered.has(question.id) ? 'Next' : 'Pass over' }}
          </NButton>
          <NButton v-else type="primary" :disabled="!parsed.target" @click="make">
            Make it
          </NButton>
        </p>
      </main>
      <aside class="so-far" aria-label="What it says so far">
        <TargetPicture
          v-if="parsed.target"
          :key="JSON.stringify(draft)"
          :target="parsed.target"
          :width="230"
          :height="100"
        />
        <h2>So far</h2>
        <ul>
          <li v-for="line in lines" :key="line.says">{{ line.says }}</li>
        </ul>
        <p v-if="lines.length === 0" class="serif">It takes everything as it is.</p>
      </aside>
    </div>
  </section>
</template>

<style scoped>
.new {
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
}

.called {
  display: flex;
  gap: 8px;
  align-items: center;
  width: 280px;
}

.columns {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr) 260px;
  min-height: 0;
}

nav,
.so-far {
  overflow: auto;
  padding: 14px 16px 30px 0;
}

.so-far {
  padding: 14px 0 30px 16px;
  border-left: 1px solid var(--line);
}

nav ol {
  margin: 0;
  padding-left: 22px;
  font-family: var(--serif);
  line-height: 1.5;
}

nav li {
  margin-bottom: 5px;
}

nav li button {
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink-2);
  font: inherit;
  text-align: left;
  vertical-align: top;
  cursor: pointer;
}

nav li button[aria-current] {
  color: var(--ink);
  font-weight: 600;
}

nav li .soft {
  display: block;
  font: 12px var(--sans);
}

.good {
  margin-top: 14px;
  padding: 10px 12px;
  border: 1px dashed var(--line);
  border-radius: 5px;
}

.good.dropping {
  border-color: var(--quill);
  background: var(--page);
}

.good .serif {
  margin-bottom: 8px;
}

.card {
  overflow: auto;
  padding: 14px 20px 30px;
  border-left: 1px solid var(--line);
}

.card h2 {
  font-size: 20px;
}

.why {
  color: var(--ink-2);
}

.answers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px;
  margin: 12px 0 6px;
}

.answers button {
  display: grid;
  gap: 2px;
  padding: 8px 11px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
  text-align: left;
  cursor: pointer;
}

.answers button:hover,
.answers button[aria-pressed='true'] {
  border-color: var(--quill);
}

.answers button[aria-pressed='true'] {
  box-shadow: inset 3px 0 0 var(--quill);
}

.answers strong {
  font: 600 15px var(--serif);
}

.answers span {
  color: var(--ink-2);
  font-size: 12px;
}

.on {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}

.so-far h2 {
  margin: 10px 0 4px;
  font-size: 16px;
}

.so-far ul {
  margin: 0;
  padding-left: 16px;
  line-height: 1.5;
}

.problem {
  margin: 6px 0;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}
</style>
