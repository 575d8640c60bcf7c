<script setup lang="ts">
import { computed, provide, ref, toRef } from 'vue';
import type { Evidence } from '../../../core/target/evidence';
import { SUBJECTS, type Data, type Subject } from '../../../core/target/sentences';
import { parseTarget } from '../../../core/target/parse';
import { targetShape } from '../schema-fields';
import SentenceCards from './SentenceCards.vue';
import SentenceGroup from './SentenceGroup.vue';
import { PAGE } from './page';

/** A target as a page of sentences by subject: what it says is changed where it stands. */
const props = defineProps<{
  data: Data;
  learnt: ReadonlySet<string>;
  /** What bounds among the learnt rest on. */
  evidence?: readonly Evidence[];
  problems: ReadonlyMap<string, string>;
  /** Only these subjects, where not the whole is asked for. */
  only?: readonly string[];
}>();
const emit = defineEmits<{
  change: [next: Data, path: string];
  confirm: [paths: readonly string[]];
}>();
const shown = computed(() =>
  SUBJECTS.filter((s) => props.only === undefined || props.only.includes(s.id)),
);
const seats = computed(() =>
  ((props.data['seats'] as Data[] | undefined) ?? []).map((s) => ({
    id: String(s['id']),
    name: String(s['name']),
  })),
);
const formats = computed(() =>
  ((props.data['formats'] as Data[] | undefined) ?? []).map((f) => ({
    id: String(f['id']),
    name: String(f['name']),
  })),
);
provide(PAGE, {
  seats,
  formats,
  target: toRef(() => props.data),
  learnt: toRef(() => props.learnt),
  confirm: (paths) => emit('confirm', paths),
  evidence: computed(() => new Map(props.evidence?.map((e) => [e.path, e]))),
});

/** What a change would break is told under its sentence, and nothing is changed. */
const refused = ref<ReadonlyMap<string, string>>(new Map());
const told = computed(() => new Map([...props.problems, ...refused.value]));
/** A file of its own format is of the first that there is, until another is chosen. */
function withFormats(data: Data): Data {
  const own = (data['formats'] as Data[] | undefined) ?? [];
  const outputs = ((data['outputs'] as Data[] | undefined) ?? []).map((o): Data => {
    const { options, ...rest } = o as { options?: Data };
    const { format, ...others } = options ?? {};
    const isOwn = o['writer'] === 'own-format';
    const known = own.some((f) => f['id'] === format) ? format : own[0]?.['id'];
    const kept = isOwn && known !== undefined ? { ...others, format: known } : others;
    return Object.keys(kept).length > 0 ? { ...rest, options: kept } : rest;
  });
  return { ...data, outputs };
}
function change(asked: Data, path: string) {
  const next = path.startsWith('outputs') ? withFormats(asked) : asked;
  const block = path.split(/[.[]/)[0]!;
  const said = (d: Data) => parseTarget(d).problems.map((p) => [p.path, p.says] as const);
  const before = new Set(said(props.data).map((p) => p.join(' ')));
  const broken = said(next).filter(
    ([at, says]) => at.startsWith(block) && !before.has(`${at} ${says}`),
  );
  if (broken.length > 0) {
    refused.value = new Map([[path, broken[0]![1]]]);
    return;
  }
  refused.value = new Map();
  emit('change', next, path);
}
/** What was refused of a list as a whole stands under no sentence of its own. */
const aboutLists = (s: Subject) =>
  [...refused.value].flatMap(([path, says]) =>
    s.cards?.some((c) => path === c.path || (/\]$|kind$/.test(path) && path.startsWith(c.path)))
      ? [says]
      : [],
  );
</script>

<template>
  <div class="page">
    <section v-for="s in shown" :id="`say-${s.id}`" :key="s.id" class="subject">
      <h2>{{ s.title }}</h2>
      <p v-for="says in aboutLists(s)" :key="says" class="problem" role="alert">{{ says }}</p>
      <SentenceGroup
        v-if="s.sentences.length > 0"
        :sentences="s.sentences"
        :data="data"
        :shape="targetShape"
        under=""
        :of="s.of"
        :problems="told"
        @change="change"
      />
      <SentenceCards
        v-for="c in s.cards ?? []"
        :key="c.path"
        :cards="c"
        :data="data"
        :shape="targetShape"
        under=""
        :problems="told"
        @change="change"
      />
    </section>
  </div>
</template>

<style scoped>
.subject {
  padding: 10px 0 14px;
  border-bottom: 1px solid var(--line);
}

.problem {
  margin: 2px 0 6px var(--sentence-indent, 122px);
  padding-left: 8px;
  border-left: 3px solid var(--wax);
}

h2 {
  margin-bottom: 2px;
  font-size: 16px;
}
</style>
