<script setup lang="ts">
import { NButton, NInput } from 'naive-ui';
import { computed, ref, shallowRef } from 'vue';
import type { Evidence } from '../../core/target/evidence';
import type { Learnt } from '../../core/learning/learn';
import type { Answered } from '../../core/learning/probes';
import { asCautions, settle, settledPaths } from '../../core/target/settle';
import { parseTarget } from '../../core/target/parse';
import type { Target } from '../../core/target/schema';
import type { Data } from '../../core/target/sentences';
import type { Amiss } from '../../core/learning/separate';
import type { ProbeReply, SeparateReply } from '../../worker/protocol';
import DialogCard from '../kit/DialogCard.vue';
import { sayFailure } from '../kit/say-failure';
import { useFiles } from '../kit/use-files';
import { useLeadOn } from '../kit/use-lead-on';
import { saveFile } from '../storage/save-file';
import { engine } from '../stores/engine';
import { useTargets } from '../stores/targets';
import { learnFrom } from './learn-from';
import ReasonList from './ReasonList.vue';

/** What would accept the files that were taken, and why others were refused; or probes to find out. */
const emit = defineEmits<{ close: [] }>();
const targets = useTargets();
const leadOn = useLeadOn();
const taken = shallowRef<readonly File[]>([]);
const refused = shallowRef<readonly File[]>([]);
/** Taken, and not played as they should be; what was heard is said in words. */
const wrong = shallowRef<readonly File[]>([]);
const heard = ref('');
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
const chooseWrong = useFiles(MIDI, (files) => {
  wrong.value = files;
  void look();
});
const title = computed(
  () => name.value.trim() || taken.value[0]?.name.replace(/\.[^.]*$/, '') || 'Learnt target',
);

const learnt = shallowRef<Learnt | null>(null);
const whyRefused = shallowRef<SeparateReply | null>(null);
const whyWrong = shallowRef<SeparateReply | null>(null);
const tickedRefused = shallowRef<ReadonlySet<number>>(new Set());
const tickedWrong = shallowRef<ReadonlySet<number>>(new Set());
/** The best reason is taken up unless somebody says otherwise. */
const firstOf = (found: SeparateReply | null): ReadonlySet<number> =>
  new Set(found?.proposals.length ? [0] : []);

/** What tells files from those that were taken; null where there are none. */
async function whyOf(files: readonly File[], amiss: Amiss): Promise<SeparateReply | null> {
  if (files.length === 0) return null;
  const trial = async (file: File, isTaken: boolean) => ({
    name: file.name,
    bytes: await file.arrayBuffer(),
    taken: isTaken,
  });
  const trials = await Promise.all([
    ...taken.value.map((f) => trial(f, true)),
    ...files.map((f) => trial(f, false)),
  ]);
  const found = await engine().ask('separate', { trials, amiss }).result;
  if (found?.problem) problem.value = found.problem;
  return found;
}

/** What the taken files have in common, and what separates them from the others. */
let looks = 0;
async function look() {
  const mine = ++looks;
  problem.value = null;
  whyRefused.value = whyWrong.value = null;
  learnt.value = null;
  if (taken.value.length === 0) return;
  working.value = true;
  try {
    const found = await learnFrom(taken.value, title.value);
    if (mine !== looks) return;
    if ('problem' in found) {
      problem.value = found.problem;
      return;
    }
    const ofRefused = await whyOf(refused.value, 'refused');
    const ofWrong = await whyOf(wrong.value, 'played wrongly');
    // Other files were chosen meanwhile.
    if (mine !== looks) return;
    learnt.value = found;
    [whyRefused.value, whyWrong.value] = [ofRefused, ofWrong];
    [tickedRefused.value, tickedWrong.value] = [firstOf(ofRefused), firstOf(ofWrong)];
  } catch (error) {
    if (mine === looks) problem.value = sayFailure(error);
  } finally {
    if (mine === looks) working.value = false;
  }
}
const settingsOf = (found: SeparateReply | null, ticked: ReadonlySet<number>) =>
  (found?.proposals ?? []).filter((_, i) => ticked.has(i)).flatMap((p) => p.sets);

async function make(target: Target, paths: readonly string[], shown: readonly Evidence[] = []) {
  const lead = leadOn();
  const id = targets.freeId(target.id);
  if (await targets.put({ ...target, id }, paths, undefined, shown))
    await lead(`/targets/${id}/edit`);
  else problem.value = targets.problem;
}
async function learn() {
  const found = learnt.value;
  if (!found) return;
  const named = { ...found.target, name: title.value } as unknown as Data;
  const mild = settingsOf(whyWrong.value, tickedWrong.value);
  const grave = settingsOf(whyRefused.value, tickedRefused.value);
  const sets = [
    ...grave,
    ...(wrong.value.length > 0 ? asCautions(settle(named, grave), mild, heard.value) : []),
  ];
  const data = settle(named, sets);
  const { target, problems } = parseTarget(data);
  const settled = settledPaths(data, sets);
  // What a reason says is no longer what the taken files alone show.
  const shown = found.evidence.filter((e) => !settled.includes(e.path));
  if (target) await make(target, [...found.learnt, ...settled], shown);
  else problem.value = `The ticked reasons do not go together: ${problems[0]?.says ?? ''}`;
}

// Probes: one small file after the other, each said to be taken or refused.
const answers = shallowRef<readonly Answered[]>([]);
const probe = shallowRef<ProbeReply | null>(null);
const like = shallowRef<{ name: string; bytes: ArrayBuffer } | null>(null);
const asking = ref(false);
/** The next probe after these answers; until it is there, the one before cannot be answered again. */
async function nextProbe(after: readonly Answered[]) {
  if (asking.value) return;
  asking.value = true;
  problem.value = null;
  try {
    const plain = JSON.parse(JSON.stringify(after)) as Answered[];
    // The first one is like a file that was taken, where one was chosen before.
    if (after.length === 0) {
      const [file] = taken.value;
      like.value = file ? { name: file.name, bytes: await file.arrayBuffer() } : null;
    }
    const next = await engine().plain.probe(plain, like.value);
    [answers.value, probe.value] = [after, next];
  } catch (error) {
    problem.value = sayFailure(error);
  } finally {
    asking.value = false;
  }
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
  void nextProbe([...answers.value, { ...value.answered, taken: isTaken }]);
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
      Give files that were taken, and others that were refused, or taken and played wrongly. What
      all taken ones have in common makes a target; what tells them from the others is likely why.
    </p>
    <div class="rows">
      <NButton @click="chooseTaken()">
        {{ taken.length === 0 ? 'Choose files' : `${taken.length} taken` }}
      </NButton>
      <NButton @click="chooseRefused()">
        {{ refused.length === 0 ? 'Files that were refused' : `${refused.length} refused` }}
      </NButton>
      <NButton @click="chooseWrong()">
        {{
          wrong.length === 0 ? 'Files that were played wrongly' : `${wrong.length} played wrongly`
        }}
      </NButton>
    </div>
    <div class="rows">
      <NInput
        v-if="wrong.length > 0"
        v-model:value="heard"
        maxlength="200"
        placeholder="What was heard: second horn late"
        :input-props="{ 'aria-label': 'What was heard' }"
      />
      <NInput
        v-model:value="name"
        :placeholder="title"
        :input-props="{ 'aria-label': 'Name of the target' }"
      />
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <ReasonList
      v-if="whyRefused"
      v-model:ticked="tickedRefused"
      title="Why they may have been refused"
      :found="whyRefused"
      amiss="refused"
    />
    <ReasonList
      v-if="whyWrong"
      v-model:ticked="tickedWrong"
      title="Why they may have been played wrongly"
      :found="whyWrong"
      amiss="played wrongly"
    />
    <p v-if="whyWrong && whyWrong.proposals.length > 0" class="soft">
      What is ticked here is a caution, or as grave as what the target says of the same subject.
    </p>
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
      <NButton v-if="probe === null" size="small" @click="nextProbe([])"
        >Begin with a probe</NButton
      >
      <NButton v-else-if="'done' in probe && !probe.done" size="small" @click="nextProbe([])">
        Begin anew
      </NButton>
      <NButton v-else-if="'done' in probe" size="small" type="primary" @click="fromProbes">
        Make a target of it
      </NButton>
      <template v-else>
        <NButton size="small" @click="saveProbe">Save this probe</NButton>
        <NButton size="small" :disabled="asking" @click="answer(true)">It was taken</NButton>
        <NButton size="small" :disabled="asking" @click="answer(false)">It was refused</NButton>
      </template>
    </div>
  </DialogCard>
</template>

<style scoped>
/* However many reasons stand above it, it is there. */
.done {
  position: sticky;
  bottom: -22px;
  padding: 12px 0 20px;
  background: var(--page);
}

.rows {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 14px;
}

.rows .n-input {
  flex: 1;
  min-width: 200px;
}

h3 {
  margin: 16px 0 4px;
  font-size: 15px;
}

.problem {
  margin-top: 10px;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}
</style>
