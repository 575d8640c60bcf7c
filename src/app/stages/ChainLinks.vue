<script setup lang="ts">
import { NButton, NCheckbox, NInputNumber, NSelect } from 'naive-ui';
import { ChevronLeft, ChevronRight, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { ChainLink } from '../../core/score/piece';
import { sayTimes } from '../../core/target/words';
import { useJob } from '../stores/job';

/** The chain of a delivery as a row of links: one step of the plan, edited link by link. */
const job = useJob();
const limits = computed(() => job.target?.chains ?? null);
const voices = computed(
  () => job.target?.seats.flatMap((s) => (s.kind === 'voice' ? [s.name] : [])) ?? [],
);
const letters = computed(() =>
  (job.shown?.pieces ?? []).flatMap(({ name, place }) =>
    place && limits.value?.patterns.includes(place)
      ? [{ label: `${place}: ${name}`, value: place }]
      : [],
  ),
);
const step = computed(() => job.plan?.now.steps.find((s) => s.step === 'chain') ?? null);
const every = computed(() => voices.value.map((_, i) => i + 1));
/** Without a chain of one’s own every pattern is played once. */
const links = computed<readonly ChainLink[]>(
  () =>
    (step.value?.params as { links: ChainLink[] } | undefined)?.links ??
    letters.value.map(({ value }) => ({
      pattern: value,
      repeats: 1,
      shift: 0,
      voices: every.value,
    })),
);
const at = ref<number | null>(null);
const edited = computed(() => (at.value === null ? null : (links.value[at.value] ?? null)));

function set(list: readonly ChainLink[], did: string) {
  const params = { links: list.map((l) => ({ ...l, voices: [...l.voices] })) };
  if (!step.value) job.addSteps(did, [{ step: 'chain', params, scope: {}, on: true }]);
  else if (list.length === 0) job.removeStep(step.value.key, did);
  else job.editStep(step.value.key, { ...step.value, params }, did);
}
function change(part: Partial<ChainLink>) {
  const i = at.value;
  if (i === null) return;
  set(
    links.value.map((l, n) => (n === i ? { ...l, ...part } : l)),
    `Link ${i + 1} changed`,
  );
}
function add() {
  const pattern = links.value.at(-1)?.pattern ?? letters.value[0]?.value;
  if (!pattern) return;
  set([...links.value, { pattern, repeats: 1, shift: 0, voices: every.value }], 'Link added');
  at.value = links.value.length - 1;
}
function drop() {
  const i = at.value!;
  at.value = null;
  set(
    links.value.filter((_, n) => n !== i),
    `Link ${i + 1} taken out`,
  );
}
function move(by: number) {
  const from = at.value!;
  const to = from + by;
  if (to < 0 || to >= links.value.length) return;
  const list = [...links.value];
  [list[from], list[to]] = [list[to]!, list[from]!];
  set(list, `Link ${from + 1} moved`);
  at.value = to;
}
function voice(n: number, on: boolean) {
  const now = new Set(edited.value?.voices);
  if (on) now.add(n);
  else now.delete(n);
  change({ voices: [...now].sort((a, b) => a - b) });
}
const shift = (n: number) => (n === 0 ? '' : ` ${n > 0 ? '+' : '−'}${Math.abs(n)}`);
const sayLink = (l: ChainLink) =>
  `Pattern ${l.pattern}, ${sayTimes(l.repeats)}${l.shift === 0 ? '' : `, shifted by ${l.shift}`}, ${l.voices.length} voices`;
</script>

<template>
  <section class="chain" aria-labelledby="chain-title">
    <h3 id="chain-title">Chain</h3>
    <p class="soft">
      {{ step ? 'Played in this order.' : 'Every pattern once, in this order.' }}
      {{ links.length }} of {{ limits?.mostLinks }} links.
    </p>
    <ol class="row">
      <li v-for="(l, i) in links" :key="i">
        <button
          type="button"
          class="link-card"
          :class="{ here: i === at }"
          :aria-pressed="i === at"
          :aria-label="sayLink(l)"
          @click="at = i === at ? null : i"
        >
          <b>{{ l.pattern }}</b>
          <span>{{ l.repeats > 1 ? `${l.repeats} times` : '' }}{{ shift(l.shift) }}</span>
          <span class="dots" aria-hidden="true">
            <i v-for="n in every" :key="n" :class="{ on: l.voices.includes(n) }"></i>
          </span>
        </button>
      </li>
      <li>
        <NButton
          size="small"
          :disabled="
            job.readOnly || letters.length === 0 || links.length >= (limits?.mostLinks ?? 0)
          "
          @click="add"
        >
          Add a link
        </NButton>
      </li>
    </ol>
    <div v-if="edited" class="edit">
      <NSelect
        size="small"
        :value="edited.pattern"
        :options="letters"
        :disabled="job.readOnly"
        aria-label="Pattern"
        @update:value="change({ pattern: $event })"
      />
      <label class="field">
        Repeats
        <NInputNumber
          size="small"
          :value="edited.repeats"
          :min="1"
          :max="limits?.mostRepeats"
          :precision="0"
          :disabled="job.readOnly"
          :input-props="{ 'aria-label': 'Repeats' }"
          @update:value="$event !== null && change({ repeats: $event })"
        />
      </label>
      <label class="field">
        Shift, semitones
        <NInputNumber
          size="small"
          :value="edited.shift"
          :min="limits?.shiftLowest"
          :max="limits?.shiftHighest"
          :precision="0"
          :disabled="job.readOnly"
          :input-props="{ 'aria-label': 'Shift, semitones' }"
          @update:value="$event !== null && change({ shift: $event })"
        />
      </label>
      <div class="voices" role="group" aria-label="Voices that sound">
        <NCheckbox
          v-for="n in every"
          :key="n"
          :checked="edited.voices.includes(n)"
          :disabled="job.readOnly"
          @update:checked="voice(n, $event)"
        >
          {{ voices[n - 1] }}
        </NCheckbox>
      </div>
      <div class="ways">
        <NButton size="tiny" :disabled="job.readOnly" aria-label="Move earlier" @click="move(-1)">
          <ChevronLeft :size="14" />
        </NButton>
        <NButton size="tiny" :disabled="job.readOnly" aria-label="Move later" @click="move(1)">
          <ChevronRight :size="14" />
        </NButton>
        <NButton size="tiny" quaternary :disabled="job.readOnly" @click="drop">
          <X :size="14" /> Take it out
        </NButton>
      </div>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

.link-card {
  display: grid;
  justify-items: center;
  min-width: 52px;
  padding: 4px 8px;
  border: 1px solid var(--edge);
  border-radius: 5px;
  background: var(--page);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}

.link-card.here {
  border-color: var(--quill);
  background: var(--quill-wash);
}

.link-card b {
  font-family: var(--serif);
  font-size: 18px;
}

.link-card span {
  min-height: 1.2em;
  font-size: 12px;
}

.dots {
  display: flex;
  gap: 2px;
}

.dots i {
  width: 6px;
  height: 6px;
  border: 1px solid var(--edge);
  border-radius: 50%;
}

.dots i.on {
  background: var(--ink);
}

.edit {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 10px;
  padding: 8px;
  border-left: 2px solid var(--line);
}

.voices,
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  grid-column: 1 / -1;
}
</style>
