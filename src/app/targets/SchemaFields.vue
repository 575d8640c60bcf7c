<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui';
import { computed } from 'vue';
import { rowKeys } from '../stages/row-keys';
import FoldedPart from '../kit/FoldedPart.vue';
import ShapeField from '../kit/ShapeField.vue';
import { useByAndBy } from '../kit/use-by-and-by';
import { firstValue, kindOf, labelOf, shapeOfKind, unitOf, type Shape } from '../kit/shapes';

/** Fields for a part of the target, made from the schema; each change gives the whole part anew. */
const props = defineProps<{
  shape: Shape;
  value: Readonly<Record<string, unknown>>;
  path: string;
  learnt: ReadonlySet<string>;
  problems: ReadonlyMap<string, string>;
  hidden?: readonly string[];
}>();
const emit = defineEmits<{ change: [value: Record<string, unknown>, path: string] }>();

const at = (key: string) => (props.path === '' ? key : `${props.path}.${key}`);
const required = computed(() => new Set(props.shape.required ?? []));
const entries = computed(() =>
  Object.entries(props.shape.properties ?? {})
    .filter(([key]) => !props.hidden?.includes(key))
    .map(([key, shape]) => ({ key, shape, kind: kindOf(shape), path: at(key) })),
);
/** Simple fields are always shown; groups and lists once they are there. */
const shown = computed(() =>
  entries.value.filter(
    (e) => (e.kind !== 'group' && e.kind !== 'list') || props.value[e.key] !== undefined,
  ),
);
/** A field costs a millisecond or two, and a target has a hundred. */
const setUp = useByAndBy(() => shown.value.length, 2);
const absent = computed(() =>
  entries.value
    .filter((e) => (e.kind === 'group' || e.kind === 'list') && props.value[e.key] === undefined)
    .map((e) => ({ label: labelOf(e.key), value: e.key })),
);

function set(key: string, value: unknown, path = at(key)) {
  const next = { ...props.value };
  if (value === undefined || value === null || value === '') delete next[key];
  else next[key] = value;
  emit('change', next, path);
}

const options = (list: readonly (string | number)[]) =>
  list.map((value) => ({ label: String(value), value }));
const items = (key: string) => (props.value[key] as Record<string, unknown>[] | undefined) ?? [];
const itemShape = (shape: Shape, item: Record<string, unknown>) =>
  shape.items?.oneOf ? shapeOfKind(shape.items, item['kind']) : shape.items!;
const itemKinds = (shape: Shape) =>
  (shape.items?.oneOf ?? []).map((s) => String(s.properties?.['kind']?.const ?? ''));
const itemTitle = (item: Record<string, unknown>, i: number) =>
  String(item['name'] ?? item['key'] ?? item['writer'] ?? item['rung'] ?? item['id'] ?? i + 1);

function setItem(key: string, i: number, item: Record<string, unknown>, path: string) {
  set(
    key,
    items(key).map((old, n) => (n === i ? item : old)),
    path,
  );
}
function setKind(key: string, i: number, shape: Shape, kind: string) {
  const made = firstValue(shapeOfKind(shape.items!, kind)) as Record<string, unknown>;
  const kept = Object.fromEntries(
    Object.entries(items(key)[i]!).filter(([k]) => k in made && k !== 'kind'),
  );
  setItem(key, i, { ...made, ...kept, kind }, at(key));
}
const addItem = (key: string, shape: Shape) => set(key, [...items(key), firstValue(shape.items!)]);
const keys = rowKeys();
const keyed = (key: string) => {
  const list = items(key);
  const rows = keys.of(key, list.length);
  return list.map((item, i) => ({ item, key: rows[i]! }));
};
function dropItem(key: string, i: number) {
  keys.drop(key, i);
  set(
    key,
    items(key).filter((_, n) => n !== i),
  );
}
</script>

<template>
  <div class="fields" :aria-busy="setUp < shown.length">
    <template v-for="e in shown.slice(0, setUp)" :key="e.key">
      <fieldset v-if="e.kind === 'group'" class="group">
        <legend>
          {{ labelOf(e.key) }}
          <button
            v-if="!required.has(e.key)"
            type="button"
            class="link"
            @click="set(e.key, undefined)"
          >
            take away
          </button>
        </legend>
        <p v-if="problems.has(e.path)" class="problem">{{ problems.get(e.path) }}</p>
        <SchemaFields
          :shape="e.shape"
          :value="(value[e.key] as Record<string, unknown>) ?? {}"
          :path="e.path"
          :learnt="learnt"
          :problems="problems"
          @change="(next, path) => set(e.key, next, path)"
        />
      </fieldset>
      <fieldset v-else-if="e.kind === 'list'" class="group">
        <legend>
          {{ labelOf(e.key) }} ({{ items(e.key).length }})
          <span v-if="learnt.has(e.path)" class="learnt">learnt</span>
          <button type="button" class="link" @click="addItem(e.key, e.shape)">add one</button>
          <button
            v-if="!required.has(e.key)"
            type="button"
            class="link"
            @click="set(e.key, undefined)"
          >
            take away
          </button>
        </legend>
        <p v-if="problems.has(e.path)" class="problem">{{ problems.get(e.path) }}</p>
        <FoldedPart
          v-for="({ item, key }, i) in keyed(e.key)"
          :key="key"
          class="item"
          :title="itemTitle(item, i)"
          :open="items(e.key).length === 1"
        >
          <label v-if="itemKinds(e.shape).length > 0" class="field">
            <span class="label">Kind</span>
            <NSelect
              size="small"
              :value="String(item['kind'])"
              :options="options(itemKinds(e.shape))"
              :aria-label="`Kind of ${itemTitle(item, i)}`"
              @update:value="setKind(e.key, i, e.shape, $event)"
            />
          </label>
          <SchemaFields
            :shape="itemShape(e.shape, item)"
            :value="item"
            :path="`${e.path}[${i}]`"
            :learnt="learnt"
            :problems="problems"
            :hidden="['kind']"
            @change="(next, path) => setItem(e.key, i, next, path)"
          />
          <NButton size="tiny" quaternary @click="dropItem(e.key, i)"> Take this one away </NButton>
        </FoldedPart>
      </fieldset>
      <ShapeField
        v-else
        :class="{ wide: e.key === 'summary' }"
        :shape="e.shape"
        :value="value[e.key]"
        :label="labelOf(e.key)"
        :needed="required.has(e.key)"
        :unset="e.kind === 'whole' || e.kind === 'number' ? 'no limit' : 'not said'"
        :unit="unitOf(e.key)"
        :problem="problems.get(e.path)"
        :learnt="learnt.has(e.path)"
        @set="set(e.key, $event)"
      />
    </template>
    <NSelect
      v-if="absent.length > 0 && setUp === shown.length"
      class="more"
      size="small"
      :value="null"
      filterable
      :options="absent"
      :placeholder="`Add: ${absent
        .map((a) => a.label.toLowerCase())
        .slice(0, 3)
        .join(', ')}…`"
      aria-label="Add a block"
      :input-props="{ 'aria-label': 'Add a block' }"
      @update:value="(key: string) => set(key, firstValue(shape.properties![key]!))"
    />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 8px 12px;
  align-items: end;
}

.group {
  grid-column: 1 / -1;
  margin: 4px 0 0;
  padding: 6px 12px 12px;
  border: 1px solid var(--line);
  border-radius: 5px;
}

.group legend {
  padding: 0 6px;
  font-family: var(--serif);
  font-weight: 600;
}

.item {
  margin-top: 4px;
  padding: 4px 8px;
  border-left: 2px solid var(--line);
}

.label {
  display: block;
  margin-bottom: 2px;
  color: var(--ink-2);
  font-size: 12px;
}

.learnt {
  padding: 0 5px;
  border: 1px solid var(--ochre);
  border-radius: 4px;
  color: var(--ochre-text);
  font-size: 12px;
}

.wide {
  grid-column: span 2;
}

.texts {
  grid-column: 1 / -1;
}

.more {
  grid-column: 1 / -1;
  max-width: 340px;
}

.problem {
  display: block;
  margin: 2px 0;
  padding-left: 8px;
  border-left: 3px solid var(--wax);
  font-size: 12px;
}
</style>
