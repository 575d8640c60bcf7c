<script setup lang="ts">
import { NButton, NCheckbox, NInput } from 'naive-ui';
import { computed, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import type { Answered } from '../../core/learning/probes';
import { settle, settledPaths } from '../../core/target/settle';
import { parseTarget } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import type { Data } from '../../core/target/sentences';
import type { ProbeReply, SeparateReply } from '../../worker/protocol';
import DialogCard from '../kit/DialogCard.vue';
import { sayFailure } from '../kit/say-failure';
import { useFiles } from '../kit/use-files';
import { saveFile } from '../storage/save-file';
import { engine } from '../stores/engine';
import { useTargets } from '../stores/targets';
import { learnFrom } from './learn-from';

/** What would accept the files that were taken, and why others were refused; or probes to find out. */
const emit = defineEmits<{ close: [] }>();
const targets = useTargets();
const router = useRouter();
const taken = shallowRef<readonly File[]>([]);
const refused = shallowRef<readonly File[]>([]);
const name = ref('');
const problem = ref<string | null>(null);
const working = ref(false);
const MIDI = '.mid,.midi,.smf,.rmi';
const chooseTaken = useFiles(MIDI, (files) => {
  taken.value = files;
  void look();
});
const chooseRefused = useFiles(MIDI, (files) => {
  refused.value = files;
  void look();
});
const title = computed(
  () => name.value.trim() || taken.value[0]?.name.replace(/\.[^.]*$/, '') || 'Learnt target',
);

const learnt = shallowRef<{ target: Target; learnt: readonly string[] } | null>(null);
const separated = shallowRef<SeparateReply | null>(null);
const takenUp = shallowRef<ReadonlySet<number>>(new Set());
/** What the taken files have in common, and what separates them from the refused ones. */
async function look() {
  problem.value = null;
  separated.value = null;
  learnt.value = null;
  takenUp.value = new Set();
  if (taken.value.length === 0) return;
  working.value = true;
  try {
    const found = await learnFrom(taken.value, title.value);
    if ('problem' in found) {
      problem.value = found.problem;
      return;
    }
    learnt.value = found;
    if (refused.value.length === 0) return;
    const trial = async (file: File, isTaken: boolean) => ({
      name: file.name,
      bytes: await file.arrayBuffer(),
      taken: isTaken,
    });
    const trials = await Promise.all([
      ...taken.value.map((f) => trial(f, true)),
      ...refused.value.map((f) => trial(f, false)),
    ]);
    separated.value = await engine().ask('separate', { trials }).result;
    problem.value = separated.value?.problem ?? null;
    // The best reason is taken up unless somebody says otherwise.
    if (separated.value?.proposals.length) takenUp.value = new Set([0]);
  } catch (error) {
    problem.value = sayFailure(error);
  } finally {
    working.value = false;
  }
}
function toggle(i: number, on: boolean) {
  const next = new Set(takenUp.value);
  if (on) next.add(i);
  else next.delete(i);
  takenUp.value = next;
}

async function make(target: Target, paths: readonly string[]) {
  const id = targets.freeId(target.id);
  if (await targets.put({ ...target, id }, paths)) await router.push(`/targets/${id}/edit`);
  else problem.value = targets.problem;
}
async function learn() {
  const found = learnt.value;
  if (!found) return;
  const list = (separated.value?.proposals ?? []).filter((_, i) => takenUp.value.has(i));
  const named = { ...found.target, name: title.value } as unknown as Data;
  const sets = list.flatMap((p) => p.sets);
  const data = settle(named, sets);
  const { target, problems } = parseTarget(data);
  if (target) await make(target, [...found.learnt, ...settledPaths(data, sets)]);
  else problem.value = `The ticked reasons do not go together: ${problems[0]?.says ?? ''}`;
}

// Probes: one small file after the other, each said to be taken or refused.
const answers = shallowRef<readonly Answered[]>([]);
const probe = shallowRef<ProbeReply | null>(null);
const like = shallowRef<{ name: string; bytes: ArrayBuffer } | null>(null);
async function nextProbe() {
  problem.value = null;
  try {
    const plain = JSON.parse(JSON.stringify(answers.value)) as Answered[];
    // The first one is like a file that was taken, where one was chosen before.
    if (answers.value.length === 0) {
      const [file] = taken.value;
      like.value = file ? { name: file.name, bytes: await file.arrayBuffer() } : null;
    }
    probe.value = await engine().plain.probe(plain, like.value);
  } catch (error) {
    problem.value = sayFailure(error);
  }
}
function beginAnew() {
  answers.value = [];
  void nextProbe();
}
function saveProbe() {
  const { value } = probe;
  if (!value || 'done' in value) return;
  saveFile(
    value.bytes as Uint8Array<ArrayBuffer>,
    `probe-${answers.value.length + 1}.mid`,
    'audio/midi',
  );
}
function answer(isTaken: boolean) {
  const { value } = probe;
  if (!value || 'done' in value) return;
  answers.value = [...answers.value, { ...value.answered, taken: isTaken }];
  void nextProbe();
}
async function fromProbes() {
  const { value } = probe;
  if (!value || !('done' in value) || !value.done) return;
  const { formats, ppqs, channels, lowest, highest, together, startMs } = value.done;
  const { target } = parseTarget({
    schemaVersion: 1,
    id: 'probed',
    version: '1.0.0',
    name: name.value.trim() || 'Probed target',
    summary: `Found with ${answers.value.length} probes`,
    seats: [],
    seating: { unseated: 'taken' },
    file: {
      formats,
      deliverFormat: formats[0],
      ...(ppqs.length === 1 ? { ppq: { only: ppqs } } : {}),
    },
    ...(channels.length < 16 ? { channels: { only: channels } } : {}),
    notes: { lowest, highest },
    polyphony: { together, over: 'all' },
    ...(startMs > 0 ? { start: { leadInMs: startMs } } : {}),
    outputs: [{ writer: 'smf' }],
    checklist: [],
  });
  if (target)
    await make(target, [
      'file.formats',
      ...(ppqs.length === 1 ? ['file.ppq.only'] : []),
      ...(channels.length < 16 ? ['channels.only'] : []),
      'notes.lowest',
      'notes.highest',
      'polyphony.together',
      'start.leadInMs',
    ]);
}
</script>

<template>
  <DialogCard title="What would accept this file?" :width="640" @close="emit('close')">
    <p class="serif">
      Give files that were taken, and others that were refused. What all taken ones have in common
      makes a target; what tells them from the refused ones is likely why.
    </p>
    <div class="rows">
      <NButton @click="chooseTaken()">
        {{ taken.length === 0 ? 'Choose files' : `${taken.length} taken` }}
      </NButton>
      <NButton @click="chooseRefused()">
        {{ refused.length === 0 ? 'Files that were refused' : `${refused.length} refused` }}
      </NButton>
      <NInput
        v-model:value="name"
        :placeholder="title"
        :input-props="{ 'aria-label': 'Name of the target' }"
      />
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <template v-if="separated">
      <h3>Why they may have been refused</h3>
      <ol class="reasons">
        <li v-for="(p, i) in separated.proposals.slice(0, 8)" :key="p.says">
          <NCheckbox :checked="takenUp.has(i)" @update:checked="(on: boolean) => toggle(i, on)">
            {{ p.says }}
          </NCheckbox>
          <span v-if="p.twins" class="soft">
            {{ p.twins.refused }} and {{ p.twins.taken }} differ in this alone
          </span>
          <span v-else class="soft">
            nearest: {{ p.nearest.taken }} taken, {{ p.nearest.refused }} refused
          </span>
        </li>
      </ol>
      <p v-if="separated.advice" class="serif">{{ separated.advice }}</p>
    </template>
    <div class="done">
      <NButton type="primary" :disabled="!learnt" :loading="working" @click="learn">
        Make the target
      </NButton>
    </div>
    <h3>Nothing to show yet?</h3>
    <p v-if="probe === null" class="serif">
      The desk writes small files that differ in one thing each, the first like a file that was
      taken, or a plain one. Try each at the far side and say what became of it: sixteen at the most
      tell its channel, PPQ, format, range, voices and start.
    </p>
    <p v-else-if="'done' in probe" class="serif">
      <template v-if="probe.done">
        {{ answers.length }} probes found: notes {{ probe.done.lowest }}–{{ probe.done.highest }},
        {{ probe.done.together }} at once, first note at
        {{ probe.done.startMs.toLocaleString('en-GB') }} ms, SMF
        {{ probe.done.formats.join(' or ') }}, PPQ {{ probe.done.ppqs.join(', ') }},
        {{
          probe.done.channels.length === 16 ? 'any channel' : `channel ${probe.done.channels[0]}`
        }}.
        <template v-if="probe.done.unasked.length > 0">
          No probe was left for: {{ probe.done.unasked.join(', ') }}.
        </template>
      </template>
      <template v-else>
        None of {{ answers.length }} probes was taken. Choose a file that was, above: the first
        probe will be like it.
      </template>
    </p>
    <p v-else class="serif">Probe {{ answers.length + 1 }} tries {{ probe.says }}.</p>
    <div class="rows probes">
      <NButton v-if="probe === null" size="small" @click="nextProbe">Begin with a probe</NButton>
      <NButton v-else-if="'done' in probe && !probe.done" size="small" @click="beginAnew">
        Begin anew
      </NButton>
      <NButton v-else-if="'done' in probe" size="small" type="primary" @click="fromProbes">
        Make a target of it
      </NButton>
      <template v-else>
        <NButton size="small" @click="saveProbe">Save this probe</NButton>
        <NButton size="small" @click="answer(true)">It was taken</NButton>
        <NButton size="small" @click="answer(false)">It was refused</NButton>
      </template>
    </div>
  </DialogCard>
</template>

<style scoped>
.done {
  margin-top: 16px;
}

.rows {
  display: grid;
  grid-template-columns: auto auto 1fr;
  gap: 8px;
  margin-top: 14px;
}

.probes {
  display: flex;
}

h3 {
  margin: 16px 0 4px;
  font-size: 15px;
}

.reasons {
  display: grid;
  gap: 6px;
  margin: 0;
  padding-left: 20px;
}

.reasons .soft {
  display: block;
  padding-left: 24px;
}

.problem {
  margin-top: 10px;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}
</style>
