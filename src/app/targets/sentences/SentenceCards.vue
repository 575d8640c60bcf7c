<script setup lang="ts">
import { computed, ref } from 'vue';
import { factWords } from '../../../core/target/facts';
import { valueAt, withValue, type Cards, type Data } from '../../../core/target/sentences';
import { shapeOfKind, type Shape } from '../../kit/shapes';
import { shapeAtPath } from './fields';
import SentenceGroup from './SentenceGroup.vue';

/** Things that there are several of, each on a card with its own sentences. */
const props = defineProps<{
  cards: Cards;
  data: Data;
  shape: Shape;
  under: string;
  problems: ReadonlyMap<string, string>;
}>();
const emit = defineEmits<{ change: [next: Data, path: string] }>();

const items = computed(() => (valueAt(props.data, props.cards.path) as Data[] | undefined) ?? []);
const itemShape = computed(() => shapeAtPath(props.shape, props.cards.path)?.items ?? {});
const kinds = computed(() => Object.entries(props.cards.kinds));
const kindOfItem = (item: Data) => String(item['kind'] ?? '');
const own = (item: Data) => props.cards.kinds[kindOfItem(item)] ?? kinds.value[0]![1];
const shapeOfItem = (item: Data): Shape =>
  itemShape.value.oneOf ? shapeOfKind(itemShape.value, item['kind']) : itemShape.value;
const at = (i: number) => `${props.under}${props.cards.path}[${i}].`;
const open = ref<ReadonlySet<number>>(new Set());
/** A few are read at once; of many each is opened by its name. */
const isOpen = (i: number) => items.value.length <= 4 || open.value.has(i);
const titleOf = (item: Data, i: number) =>
  String(
    item['name'] ||
      (item['key'] && factWords(String(item['key']))) ||
      `${props.cards.one[0]!.toUpperCase()}${props.cards.one.slice(1)} ${i + 1}`,
  );

function change(next: readonly Data[], path: string) {
  const empty = next.length === 0 && !['seats', 'outputs'].includes(props.cards.path);
  emit('change', withValue(props.data, props.cards.path, empty ? undefined : next), path);
}
const put = (i: number, item: Data, path: string) =>
  change(
    items.value.map((old, n) => (n === i ? item : old)),
    path,
  );
/** What both kinds can say is kept. */
function setKind(i: number, kind: string) {
  const shape = shapeOfKind(itemShape.value, kind);
  const fresh = Object.assign(
    {},
    ...(props.cards.kinds[kind]?.sentences ?? [])
      .filter((s) => s.offer === undefined)
      .map((s) => s.first),
  ) as Data;
  const kept = Object.entries(items.value[i]!).filter(([k]) => shape.properties?.[k]);
  put(i, { ...fresh, ...Object.fromEntries(kept), kind }, `${at(i)}kind`);
}

const many = ref(6);
/** Ids are the desk's own: nobody is asked for one. */
function fresh(n: number, taken: ReadonlySet<unknown>, like?: Data): Data {
  const made = props.cards.first(n);
  if (made['id'] === undefined) return made;
  let id = String(made['id']);
  for (let k = n; taken.has(id); k++) id = `${String(made['id']).replace(/-\d+$/, '')}-${k + 1}`;
  return { ...made, ...(like ? { kind: like['kind'] } : {}), id };
}
function add(count = 1) {
  const next = [...items.value];
  for (let k = 0; k < count; k++) {
    const ids = new Set(next.map((i) => i['id']));
    next.push(fresh(next.length + 1, ids));
  }
  open.value = new Set([...open.value, next.length - 1]);
  change(next, `${at(next.length - 1)}name`);
}
function drop(i: number) {
  change(
    items.value.filter((_, n) => n !== i),
    `${props.under}${props.cards.path}`,
  );
}
</script>

<template>
  <div class="cards">
    <section v-for="(item, i) in items" :key="i" class="card" :aria-label="titleOf(item, i)">
      <header>
        <button
          v-if="items.length > 4"
          type="button"
          class="name"
          :aria-expanded="isOpen(i)"
          @click="open = new Set(open.has(i) ? [...open].filter((n) => n !== i) : [...open, i])"
        >
          {{ titleOf(item, i) }}
        </button>
        <strong v-else class="name">{{ titleOf(item, i) }}</strong>
        <label v-if="kinds.length > 1" class="kind">
          told apart
          <select
            :value="kindOfItem(item)"
            :aria-label="`How ${titleOf(item, i)} is told apart`"
            @change="setKind(i, ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="[k, { name }] in kinds" :key="k" :value="k">{{ name }}</option>
          </select>
        </label>
        <button type="button" class="link" @click="drop(i)">take this {{ cards.one }} away</button>
      </header>
      <template v-if="isOpen(i)">
        <SentenceGroup
          :sentences="own(item).sentences"
          :data="item"
          :shape="shapeOfItem(item)"
          :under="at(i)"
          :of="null"
          :problems="problems"
          @change="(next, path) => put(i, next, path)"
        />
        <SentenceCards
          v-for="c in cards.cards ?? []"
          :key="c.path"
          :cards="c"
          :data="item"
          :shape="shapeOfItem(item)"
          :under="at(i)"
          :problems="problems"
          @change="(next, path) => put(i, next, path)"
        />
      </template>
    </section>
    <p class="more">
      <button type="button" class="link" @click="add()">Add {{ cards.more }}</button>
      <template v-if="cards.path === 'seats'">
        · <button type="button" class="link" @click="add(many)">add</button>
        <input
          v-model.number="many"
          type="number"
          min="2"
          max="16"
          aria-label="How many seats at once"
        />
        at once, on channels of their own
      </template>
    </p>
  </div>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 420px), 1fr));
  gap: 8px;
  margin: 8px 0 0 var(--sentence-indent, 122px);
}

.cards .cards {
  margin-left: 0;
}

.card {
  padding: 6px 12px 8px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.card :deep(.line) {
  grid-template-columns: 0 minmax(0, 1fr) auto;
  gap: 0;
}

.card :deep(.words) {
  font-size: 15px;
}

.card :deep(.unsaid) {
  margin-left: 0;
}

header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}

.name {
  flex: 1;
  padding: 0;
  border: 0;
  background: none;
  font: 600 15px var(--serif);
  text-align: left;
}

button.name {
  cursor: pointer;
}

.kind,
.kind select {
  color: var(--ink-2);
  font-size: 12px;
}

.kind select {
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
}

.kind select option {
  background: var(--page);
  color: var(--ink);
}

.link {
  font-size: 12px;
}

.more {
  grid-column: 1 / -1;
  color: var(--ink-2);
  font-size: 13px;
}

.more input {
  width: 4ch;
  border: 0;
  border-bottom: 1.5px solid var(--quill);
  background: none;
}
</style>
