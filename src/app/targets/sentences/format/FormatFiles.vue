<script setup lang="ts">
import { SCORE_FILES } from '../../../../core/smf/name';
import { NButton } from 'naive-ui';
import { computed, inject, ref, shallowRef } from 'vue';
import { OwnFileSchema, type OwnFile } from '../../../../core/formats/own/schema';
import { UNSAID } from '../../../../core/target/unsaid';
import { parseTarget } from '../../../../core/target/parse';
import { problemsOf } from '../../../../core/diagnostic/say-problems';
import { sayFailure } from '../../../kit/say-failure';
import { useFiles } from '../../../kit/use-files';
import { engine } from '../../../stores/engine';
import type { DescribeReply } from '../../../../worker/protocol';
import { PAGE } from '../page';
import FormatFile from './FormatFile.vue';
import MovableList from './MovableList.vue';
import { newFile } from './new-container';

/** What a format's files are made of, in words; described by an example, or as text. */
const props = defineProps<{ files: readonly OwnFile[] }>();
const emit = defineEmits<{ set: [files: readonly OwnFile[]]; wrong: [says: string | null] }>();
const page = inject(PAGE);

const example = shallowRef<File | null>(null);
const score = shallowRef<File | null>(null);
const found = shallowRef<DescribeReply | null>(null);
const working = ref(false);
const chooseExample = useFiles('', (files) => {
  example.value = files[0] ?? null;
  void explain();
});
const chooseScore = useFiles(SCORE_FILES, (files) => {
  score.value = files[0] ?? null;
  void explain();
});
async function explain() {
  if (!example.value || !score.value) return;
  working.value = true;
  found.value = null;
  const target = parseTarget(page?.target.value ?? {}).target ?? UNSAID;
  try {
    found.value = await engine().ask('describe', {
      name: example.value.name,
      bytes: await example.value.arrayBuffer(),
      scoreName: score.value.name,
      score: await score.value.arrayBuffer(),
      target: JSON.parse(JSON.stringify(target)) as typeof target,
    }).result;
  } catch (error) {
    found.value = { problem: sayFailure(error) };
  } finally {
    working.value = false;
  }
}
const described = computed(() => (found.value && 'format' in found.value ? found.value : null));
const worthSaying = computed(
  () => described.value?.findings.filter((f) => f.is !== 'constant').slice(0, 24) ?? [],
);

const asText = ref(false);
const text = ref('');
function openText() {
  asText.value = !asText.value;
  text.value = JSON.stringify(props.files, null, 1);
}
function takeText() {
  let data: unknown;
  try {
    data = JSON.parse(text.value);
  } catch (error) {
    return emit('wrong', `This is not JSON: ${(error as Error).message}`);
  }
  const result = OwnFileSchema.array().min(1).safeParse(data);
  if (!result.success) {
    const [first] = problemsOf(OwnFileSchema.array(), result.error.issues);
    return emit('wrong', first ? `${first.path}: ${first.says}` : 'This is no description.');
  }
  emit('wrong', null);
  emit('set', result.data);
}
</script>

<template>
  <span class="files">
    <MovableList
      v-slot="{ item, put }"
      :items="files"
      what="File"
      :least="1"
      @set="emit('set', $event)"
    >
      <FormatFile :file="item" @set="put" />
    </MovableList>
    <button type="button" class="link" @click="emit('set', [...files, newFile()])">
      Add another file
    </button>
    <span class="ways">
      <NButton size="tiny" @click="chooseExample()">
        {{ example ? example.name : 'A file that it takes…' }}
      </NButton>
      <NButton size="tiny" @click="chooseScore()">
        {{ score ? score.name : 'and the MIDI file it was made from…' }}
      </NButton>
      <button type="button" class="link" :aria-expanded="asText" @click="openText">
        {{ asText ? 'put the text away' : 'as text' }}
      </button>
    </span>
    <span v-if="working" class="soft">It is being explained…</span>
    <span v-if="found && 'problem' in found" class="wrong" role="alert">{{ found.problem }}</span>
    <span v-if="described" class="found">
      <span class="verdict" :class="{ good: described.identical }">
        {{
          described.identical
            ? 'Written again: identical.'
            : `Written again: it differs at byte ${described.differsAt?.toLocaleString('en-GB')}.`
        }}
      </span>
      <span v-for="(f, i) in worthSaying" :key="i" class="row" :class="f.is">
        {{ f.where }}: {{ f.says }}{{ f.rows > 1 ? `; ${f.rows} of ${f.rows}` : '' }}
      </span>
      <span v-for="d in described.doubts" :key="d" class="row unexplained">{{ d }}</span>
      <NButton size="tiny" type="primary" @click="emit('set', described.format.files)">
        Take this description up
      </NButton>
    </span>
    <span v-if="asText" class="text">
      <textarea v-model="text" rows="14" aria-label="Its files as text" spellcheck="false" />
      <NButton size="tiny" @click="takeText">Take the text up</NButton>
    </span>
  </span>
</template>

<style scoped>
.files,
.row,
.found,
.text {
  display: block;
}

.row {
  padding-left: 14px;
  color: var(--ink-2);
  font-size: 14px;
}

.row.unexplained,
.wrong {
  border-left: 3px solid var(--wax);
  color: var(--ink);
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}

.verdict {
  font-weight: 600;
}

.verdict.good {
  color: var(--moss-text);
}

textarea {
  width: 100%;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
  font:
    12px/1.4 'IBM Plex Mono',
    monospace;
}

.link {
  font: 12px var(--sans);
}
</style>
