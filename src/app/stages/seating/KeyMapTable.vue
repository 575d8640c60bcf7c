<script setup lang="ts">
import { NButton, NInput, NSelect } from 'naive-ui';
import { Ear } from '@lucide/vue';
import { computed, onMounted, ref, watch } from 'vue';
import { drumName, inOrder, nearestInKind, type KeyPair } from '../../../core/seating/drum-kinds';
import { keyCounts } from '../../../core/seating/key-use';
import { count, noteName } from '../../../core/target/words';
import type { PartView } from '../../../core/wire/view';
import { useJob } from '../../stores/job';
import { fileStem } from '../../stores/handover';
import { useKeyMaps, type KeyMap } from '../../stores/key-maps';
import { saveFile } from '../../storage/save-file';
import { usePlaying } from '../../stores/playing';
import type { SeatView } from '../../stores/seating';
import { useByAndBy } from '../../kit/use-by-and-by';
import { useFiles } from '../../kit/use-files';

/** Source keys with what they are and how often they are struck, each with the key it goes to. */
const props = defineProps<{
  part: PartView;
  view: SeatView;
  names: ReadonlyMap<number, string>;
}>();
const emit = defineEmits<{ close: [] }>();
const job = useJob();
const playing = usePlaying();

const counts = computed(() => keyCounts([props.part.columns]));
const used = computed(() =>
  Array.from({ length: 128 }, (_, k) => k).filter((k) => counts.value[k]! > 0),
);
const setUp = useByAndBy(() => used.value.length, 3);
const there = computed(() =>
  Array.from({ length: 128 }, (_, k) => k)
    .filter((k) => props.view.allowed?.[k] ?? true)
    .map((key) => {
      const name = props.names.get(key);
      return name === undefined ? { key } : { key, name };
    }),
);
const drums = computed(() => props.part.channel === 10);
const nameOf = (key: number, own: boolean) => {
  const name = (own ? props.names.get(key) : undefined) ?? (drums.value ? drumName(key) : null);
  return `${noteName(key)} (${key})${name ? ` ${name}` : ''}`;
};
const options = computed(() =>
  there.value.map(({ key }) => ({ label: nameOf(key, true), value: key })),
);
const to = ref(new Map<number, number>());
watch(
  () => props.part.columns.key,
  () => (to.value = new Map()),
);
const goesTo = (key: number) => to.value.get(key) ?? key;
const isThere = (key: number) => props.view.allowed?.[key] ?? true;
const changed = computed(() => used.value.filter((k) => goesTo(k) !== k));
const lost = computed(() => used.value.filter((k) => !isThere(goesTo(k))));

const set = (from: number, key: number) => (to.value = new Map(to.value).set(from, key));
const take = (pairs: readonly KeyPair[]) =>
  (to.value = new Map(pairs.map(({ from, to: key }) => [from, key])));

// --- on the shelf ------------------------------------------------------------------------------
const shelf = useKeyMaps();
onMounted(shelf.load);
const naming = ref('');
const shelved = computed(() => shelf.maps.map((m) => ({ label: m.name, value: m.name })));
/** What of a map is meant here: keys that are struck, and places that are there. */
function use(map: KeyMap | undefined) {
  if (map) take(map.keys.filter((k) => counts.value[k.from]! > 0 && isThere(k.to)));
}
const useNamed = (name: string) => use(shelf.maps.find((m) => m.name === name));
const mine = () =>
  shelf.made(
    naming.value,
    changed.value.map((from) => ({ from, to: goesTo(from) })),
  );
const choose = useFiles('.json', picked, { multiple: false });
async function picked([file]: File[]) {
  if (file) use((await shelf.take(file)) ?? undefined);
}
function save() {
  const map = mine();
  const bytes = new TextEncoder().encode(`${JSON.stringify(map, null, 2)}\n`);
  saveFile(bytes, `${fileStem(map.name)}.key-map.json`, 'application/json');
}

/** First what it is, then what it would be. */
const hear = (key: number) =>
  playing.hearKeys(props.part, goesTo(key) === key ? [key] : [key, goesTo(key)]);

function apply() {
  const keys = changed.value.map((from) => ({ from, to: goesTo(from) }));
  const call = { step: 'map-keys', params: { keys }, scope: { parts: [props.part.ref] } };
  job.addSteps(`${props.part.name}: ${count(keys.length, 'key')} moved`, [{ ...call, on: true }]);
  emit('close');
}
</script>

<template>
  <div class="map">
    <div class="ways">
      <NButton size="tiny" @click="take(nearestInKind(used, there))">Nearest in kind</NButton>
      <NButton size="tiny" @click="take(inOrder(used, there))">Low to high, in order</NButton>
      <NButton size="tiny" :disabled="changed.length === 0" @click="to = new Map()">
        As they are
      </NButton>
      <NSelect
        v-if="shelved.length > 0"
        class="shelved"
        size="tiny"
        :value="null"
        :options="shelved"
        placeholder="From the shelf"
        aria-label="Key map from the shelf"
        @update:value="useNamed"
      />
      <NButton size="tiny" @click="choose()">From a file</NButton>
    </div>
    <p v-if="shelf.problem" class="off" role="alert">{{ shelf.problem }}</p>
    <ul class="keys" :aria-busy="setUp < used.length">
      <li v-for="key in used.slice(0, setUp)" :key="key">
        <button
          class="icon"
          type="button"
          :aria-label="`Hear ${nameOf(key, false)}, and where it goes`"
          title="Hear it, and where it goes"
          @click="hear(key)"
        >
          <Ear :size="14" />
        </button>
        <span class="from" :title="nameOf(key, false)">{{ nameOf(key, false) }}</span>
        <span class="soft n">{{ counts[key]!.toLocaleString('en-GB') }}</span>
        <span aria-hidden="true" :class="isThere(goesTo(key)) ? 'soft' : 'off'">→</span>
        <NSelect
          size="small"
          filterable
          :value="goesTo(key)"
          :options="
            isThere(goesTo(key))
              ? options
              : [{ label: `${nameOf(key, false)}: not there`, value: key }, ...options]
          "
          :status="isThere(goesTo(key)) ? undefined : 'error'"
          :aria-label="`Where ${nameOf(key, false)} goes`"
          :input-props="{ 'aria-label': `Where ${nameOf(key, false)} goes` }"
          @update:value="set(key, $event)"
        />
      </li>
    </ul>
    <p class="soft small">
      {{
        lost.length === 0
          ? 'Every key has a place.'
          : `${count(lost.length, 'key')} without a place: ${lost.map((k) => noteName(k)).join(', ')}.`
      }}
    </p>
    <div class="ways">
      <NButton
        size="small"
        type="primary"
        :disabled="changed.length === 0 || job.readOnly"
        @click="apply"
      >
        Map {{ count(changed.length, 'key') }}
      </NButton>
      <NButton size="small" @click="emit('close')">Close</NButton>
    </div>
    <form v-if="changed.length > 0" class="ways" @submit.prevent="shelf.keep(mine())">
      <NInput
        v-model:value="naming"
        class="name"
        size="tiny"
        placeholder="Name of this map"
        maxlength="80"
        :input-props="{ 'aria-label': 'Name of this key map' }"
      />
      <NButton size="tiny" attr-type="submit" :disabled="naming.trim() === ''">
        Keep on the shelf
      </NButton>
      <NButton size="tiny" :disabled="naming.trim() === ''" @click="save">Save as a file</NButton>
    </form>
  </div>
</template>

<style scoped>
.map {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.shelved {
  width: 150px;
}

.name {
  width: 160px;
}

.keys {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 3px;
  max-height: 320px;
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

.keys li {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) auto 14px minmax(0, 1fr);
  gap: 5px;
  align-items: center;
}

.from {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.n,
.small {
  font-size: 12px;
}

.off {
  color: var(--wax);
}
</style>
