<script setup lang="ts">
import { NButton, NSelect, useDialog } from 'naive-ui';
import { useDebounceFn, useEventListener } from '@vueuse/core';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router';
import { parseTarget, parseTargetText, type TargetProblem } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import type { FindingView } from '../../worker/protocol';
import SeverityMark from '../margin/SeverityMark.vue';
import TallyDots from '../margin/TallyDots.vue';
import type { Plan } from '../../core/plan/plan';
import { EMPTY_STATE, sourcesOf } from '../storage/job';
import { engine } from '../stores/engine';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';
import TabRow from '../kit/TabRow.vue';
import JsonEditor from './JsonEditor.vue';
import SchemaFields from './SchemaFields.vue';
import { targetShape } from './schema-fields';

/** Changes a target with fields or as text; a job's findings change with every number. */
const route = useRoute();
const router = useRouter();
const targets = useTargets();
const shelf = useShelf();
const id = computed(() => String(route.params['id']));

const draft = shallowRef<Record<string, unknown>>({});
const text = ref('');
const problems = shallowRef<readonly TargetProblem[]>([]);
const learnt = shallowRef<ReadonlySet<string>>(new Set());
const way = ref<'fields' | 'text'>('fields');
const changed = ref(false);
const said = ref('');
const loaded = ref(false);
/** What stands in the text editor is no JSON: the fields show what it said before. */
const broken = ref(false);
const dialog = useDialog();

onMounted(async () => {
  await targets.load();
  const target = targets.find(id.value);
  if (target && !targets.isBuiltIn(id.value)) {
    take(target as never);
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
  changed.value = true;
}

function fieldsChanged(next: Record<string, unknown>, path: string) {
  // A number that somebody has set is no longer only learnt.
  learnt.value = new Set([...learnt.value].filter((p) => p !== path));
  take(next);
}

function textChanged(next: string) {
  if (next === text.value) return;
  text.value = next;
  const result = parseTargetText(next);
  problems.value = result.problems;
  changed.value = true;
  said.value = '';
  const data = objectIn(next);
  broken.value = data === null;
  if (data) draft.value = data;
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
  return new Promise<boolean>((answer) => {
    dialog.warning({
      title: 'Not saved yet',
      content: `What you changed of ${String(draft.value['name'])} is not saved.`,
      positiveText: 'Leave without it',
      negativeText: 'Stay',
      onPositiveClick: () => answer(true),
      onNegativeClick: () => answer(false),
      onClose: () => answer(false),
      onEsc: () => answer(false),
      onMaskClick: () => answer(false),
    });
  });
});
useEventListener(window, 'beforeunload', (event) => {
  if (changed.value) event.preventDefault();
});

// --- a job beside it --------------------------------------------------------------------------

const jobId = ref<string | null>(null);
const tally = shallowRef<{ stops: number; cautions: number; remarks: number } | null>(null);
const findings = shallowRef<readonly FindingView[]>([]);
const trying = ref(false);
const jobs = computed(() => shelf.jobs.map((j) => ({ label: j.title, value: j.id })));
watch(
  () => [loaded.value, shelf.jobs] as const,
  () => {
    if (!loaded.value || jobId.value !== null) return;
    jobId.value = (using.value[0] ?? shelf.jobs[0])?.id ?? null;
  },
  { immediate: true },
);

let round = 0;
const hold = useDebounceFn(async () => {
  const job = shelf.jobs.find((j) => j.id === jobId.value);
  const target = valid.value;
  if (!job || !target) return;
  const mine = ++round;
  trying.value = true;
  const own = job.plans.find((p) => p.targetId === id.value)?.now ?? EMPTY_STATE;
  const view = await engine().ask('run', {
    sources: sourcesOf(job).map(({ key, sha256, name, sequence }) => ({
      key,
      sha256,
      name,
      ...(sequence === undefined ? {} : { sequence }),
    })),
    // Plain data: what is watched does not cross to the worker.
    target: JSON.parse(JSON.stringify(target)) as Target,
    plan: JSON.parse(JSON.stringify({ uses: own.uses, steps: own.steps })) as Plan,
    leftAsIs: own.leftAsIs,
    known: [],
  }).result;
  if (mine !== round) return;
  trying.value = false;
  if (!view) return;
  const { stops, cautions, remarks } = view.tally;
  tally.value = { stops, cautions, remarks };
  findings.value = view.findings;
}, 150);
watch([valid, jobId], () => void hold(), { immediate: true });
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
      <TabRow
        v-model="way"
        label="How to edit"
        :tabs="[
          { id: 'fields', name: 'Fields' },
          { id: 'text', name: 'As text (JSON)' },
        ]"
      />
      <span class="soft said" aria-live="polite">{{ said }}</span>
      <NButton v-if="using.length > 0" :disabled="!valid" @click="give">
        Use it in {{ using.length === 1 ? 'its job' : `its ${using.length} jobs` }}
      </NButton>
      <NButton type="primary" :disabled="!valid || !changed" @click="save">Save</NButton>
    </header>
    <div class="columns">
      <div class="left">
        <p v-if="targets.problem" class="problems" role="alert">
          {{ targets.problem }}
          <button class="link" type="button" @click="targets.save(draft as never)">
            Save the target as a file
          </button>
        </p>
        <ul v-if="problems.length > 0" class="problems" role="alert">
          <li v-for="p in problems.slice(0, 4)" :key="p.path + p.says">
            <strong v-if="p.path">{{ p.path }}</strong> {{ p.says }}
          </li>
          <li v-if="problems.length > 4">and {{ problems.length - 4 }} more</li>
        </ul>
        <div v-if="way === 'fields' && broken" class="problems">
          <p class="serif">
            What stands in the text is not JSON yet. The fields can be used once it is; what you
            typed stays as it is until then.
          </p>
          <NButton size="small" @click="way = 'text'">Back to the text</NButton>
          <NButton size="small" quaternary @click="take(draft)">
            Throw the text away, and go on from the last that was valid
          </NButton>
        </div>
        <SchemaFields
          v-else-if="way === 'fields'"
          :shape="targetShape"
          :value="draft"
          path=""
          :learnt="learnt"
          :problems="byPath"
          :hidden="['schemaVersion', 'id', 'version']"
          @change="fieldsChanged"
        />
        <JsonEditor v-else :text="text" @change="textChanged" />
      </div>
      <aside class="beside" aria-label="A job held against it">
        <label>
          <span class="label">Held against it as you change it</span>
          <NSelect
            v-model:value="jobId"
            size="small"
            :options="jobs"
            placeholder="No job on the desk"
            aria-label="Job to try it on"
          />
        </label>
        <div v-if="tally" class="tally" :class="{ trying }">
          <TallyDots :tally="tally" />
          <RouterLink
            v-if="using.some((j) => j.id === jobId)"
            :to="`/job/${jobId}/proof`"
            class="soft"
            >Open the proof</RouterLink
          >
        </div>
        <ol class="findings" :class="{ trying }">
          <li v-for="(f, i) in findings" :key="f.key">
            <SeverityMark :severity="f.severity" :text="i + 1" />
            <div>
              <strong>{{ f.title }}</strong>
              <span class="soft where">{{ f.where }}</span>
              <p>{{ f.wrong }}</p>
            </div>
          </li>
        </ol>
        <p v-if="tally && findings.length === 0" class="serif">
          Nothing is found: this target would take it as it is.
        </p>
      </aside>
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

.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  min-height: 0;
}

.left {
  min-height: 0;
  overflow: auto;
  padding: 14px 18px 30px 0;
}

.problems {
  margin: 0 0 12px;
  padding: 8px 12px;
  border-left: 3px solid var(--wax);
  background: var(--page);
  list-style: none;
}

.beside {
  min-height: 0;
  overflow: auto;
  padding: 14px 0 30px 18px;
  border-left: 1px solid var(--line);
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.tally {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 12px 0 6px;
}

.trying {
  opacity: 0.55;
}

.findings {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.findings li {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px;
  padding: 6px 8px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
}

.where {
  margin-left: 7px;
}

.findings p {
  font-family: var(--serif);
}
</style>
