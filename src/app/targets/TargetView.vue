<script setup lang="ts">
import { NButton } from 'naive-ui';
import AskFirst from '../kit/AskFirst.vue';
import { computed, onMounted, shallowRef, watch } from 'vue';
import type { ExampleResult } from '../../core/handover/target-pack';
import { useRoute, useRouter } from 'vue-router';
import { allowedKeys } from '../../core/target/limits';
import type { Seat } from '../../core/target/schema';
import { strictnessOf } from '../../core/target/strictness';
import { useCatalogue } from '../stores/catalogue';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';
import TargetPicture from '../rehearsal/TargetPicture.vue';
import BarStrip from './BarStrip.vue';
import KeyboardDrawing from './KeyboardDrawing.vue';
import TempoScale from './TempoScale.vue';
import { useLeadOn } from '../kit/use-lead-on';

/** One target to be read: its limits drawn and said, the rules that hold it, what it gets. */
const route = useRoute();
const router = useRouter();
const leadOn = useLeadOn();
const targets = useTargets();
const shelf = useShelf();
onMounted(targets.load);
const target = computed(() => targets.find(String(route.params['id'])) ?? null);
const own = computed(() => target.value !== null && !targets.isBuiltIn(target.value.id));
const jobs = computed(() => (target.value ? targets.jobsOf(target.value.id, shelf.jobs) : []));
const lines = computed(() => (target.value ? strictnessOf(target.value) : []));
const range = (allowed: readonly boolean[]) => [...allowed.keys()].filter((k) => allowed[k]);

interface Keyboard {
  readonly name: string;
  readonly keys: readonly number[];
  readonly names?: ReadonlyMap<number, string>;
}

const keyboards = computed((): Keyboard[] => {
  const t = target.value;
  if (!t) return [];
  const out: Keyboard[] = [];
  const { lowest, highest, only, without } = t.notes ?? {};
  if ((lowest ?? highest ?? only ?? without) !== undefined)
    out.push({ name: 'Keys', keys: range(allowedKeys(t.notes!)) });
  const own = (s: Seat) => (s.kind === 'laneGroup' ? { only: s.laneNotes } : s.accepts);
  for (const s of t.seats) {
    const keys = own(s);
    // Parts of one chart share their lanes: they are drawn by rung below.
    if (keys && !(s.kind === 'laneGroup' && t.chart?.rungs))
      out.push({ name: s.name, keys: range(allowedKeys(keys)) });
  }
  for (const r of t.chart?.rungs ?? []) {
    const seat = t.seats.find((s) => s.kind === 'laneGroup' && s.rung === r.rung);
    const keys = r.laneNotes ?? (seat?.kind === 'laneGroup' ? seat.laneNotes : []);
    out.push({ name: `Rung ${r.rung}`, keys });
  }
  for (const k of t.kits ?? [])
    out.push({
      name: `Kit ${k.name}`,
      keys: k.keys.map((key) => key.noteNumber),
      names: new Map(k.keys.map((key) => [key.noteNumber, key.name])),
    });
  return out;
});
const files = computed(() => target.value?.seats.filter((s) => s.kind === 'file') ?? []);
const catalogue = useCatalogue();
const held = computed(() =>
  (catalogue.value?.rules ?? []).filter(({ block, reads }) => {
    const data = block === null ? undefined : target.value?.[block];
    if (data === undefined) return false;
    return reads?.some((key) => (data as Record<string, unknown>)[key] !== undefined) ?? true;
  }),
);
/** What it takes of the events of a file, so far as it says anything. */
const events = computed(() => {
  const t = target.value;
  const { events: e = {}, text: x = {} } = t ?? {};
  const some = Array.isArray(e.controllers) || e.controllersWithout;
  const rows: [string, string | undefined][] = [
    ['controllers', some ? 'some' : (e.controllers as string | undefined)],
    ['programs', e.programs === 'any' || e.programs === 'none' ? e.programs : e.programs && 'some'],
    ['bends', e.bends],
    ['aftertouch', e.aftertouch],
    ['system exclusive', e.sysex],
    ['unknown meta', e.unknownMeta],
    ['markers', x.markers === 'loop-marker' ? 'some' : x.markers],
    ['other text', x.others],
  ];
  return rows.flatMap(([name, takes]) => (takes === undefined ? [] : [{ name, takes }]));
});
const examples = shallowRef<readonly ExampleResult[] | null>(null);
watch(
  target,
  async (now) => {
    examples.value = now ? await targets.examplesOf(now) : null;
  },
  { immediate: true },
);
const TAKES: Readonly<Record<string, string>> = {
  any: 'taken',
  none: 'refused',
  some: 'some taken',
};
const outputs = computed(() =>
  (target.value?.outputs ?? []).map(({ writer }) => ({
    writer,
    ready: catalogue.value?.writers.find((w) => w.id === writer) ?? null,
  })),
);

async function copy() {
  if (!target.value) return;
  const lead = leadOn();
  const id = await targets.copy(target.value);
  if (id) await lead(`/targets/${id}/edit`);
}
async function remove() {
  if (!target.value) return;
  const lead = leadOn();
  await targets.remove(target.value.id);
  await lead('/targets');
}
</script>

<template>
  <section v-if="target" class="page" aria-labelledby="target-title">
    <header class="head">
      <TargetPicture :target="target" :width="230" :height="100" />
      <div class="titles">
        <p class="soft"><RouterLink to="/targets">Targets</RouterLink></p>
        <h1 id="target-title">{{ target.name }}</h1>
        <p class="serif summary">{{ target.summary }}.</p>
        <p class="soft">
          {{ own ? 'Your own' : 'Ships with it' }} · {{ target.id }} {{ target.version }} ·
          {{
            jobs.length === 0
              ? 'no job uses it'
              : jobs.length === 1
                ? 'one job uses it'
                : `${jobs.length} jobs use it`
          }}
        </p>
      </div>
      <div class="tools">
        <AskFirst
          v-if="own"
          v-slot="{ ask }"
          :title="`Remove ${target.name}?`"
          says="Jobs that use it keep their own copy."
          yes="Remove the target"
          @yes="remove"
        >
          <NButton quaternary @click="ask">Remove</NButton>
        </AskFirst>
        <NButton @click="targets.save(target)">Save as a file</NButton>
        <NButton @click="copy">Copy</NButton>
        <NButton v-if="own" type="primary" @click="router.push(`/targets/${target.id}/edit`)">
          Edit
        </NButton>
      </div>
    </header>

    <div class="columns">
      <div>
        <h2>What it is strict about</h2>
        <ul class="lines">
          <li v-for="line in lines" :key="line.says">{{ line.says }}</li>
        </ul>
        <h2>What it gets</h2>
        <ul class="lines">
          <li v-for="o in outputs" :key="o.writer">
            <template v-if="o.ready">{{ o.ready.summary }}</template>
            <template v-else>“{{ o.writer }}”: no writer is for it.</template>
          </li>
        </ul>
        <template v-if="examples">
          <h2>Its examples</h2>
          <p class="serif">
            {{ examples.filter((e) => e.ok).length }} of {{ examples.length }} are as they are said
            to be.
          </p>
          <ul class="lines">
            <li v-for="e in examples" :key="e.what + e.file" :class="{ broken: !e.ok }">
              {{ e.what === 'pair' ? 'written' : e.what }} · {{ e.file.split('/').at(-1) }}:
              <span class="soft">{{ e.says }}</span>
            </li>
          </ul>
        </template>
        <h2>At the far side</h2>
        <ol class="lines">
          <li v-for="line in target.checklist" :key="line">{{ line }}</li>
        </ol>
      </div>
      <div>
        <template v-if="keyboards.length > 0">
          <h2>Keys</h2>
          <figure v-for="k in keyboards" :key="k.name" class="drawing">
            <figcaption v-if="keyboards.length > 1">
              {{ k.name }} <span class="soft">{{ k.keys.length }} keys</span>
            </figcaption>
            <KeyboardDrawing
              :allowed="k.keys"
              :label="`${k.name}: ${k.keys.length} keys from ${k.keys[0]} to ${k.keys.at(-1)}`"
              v-bind="k.names ? { names: k.names } : {}"
            />
          </figure>
        </template>
        <template v-if="target.seats.length > 0 && files.length === 0">
          <h2>Seats</h2>
          <ul class="seats">
            <li v-for="s in target.seats" :key="s.id">
              <strong>{{ s.name }}</strong>
              <span class="soft">
                {{
                  'channel' in s
                    ? `channel ${s.channel}`
                    : 'track' in s
                      ? `track “${s.track}”`
                      : ''
                }}{{ s.optional ? ', may stay empty' : '' }}
              </span>
              <span v-if="s.sounds?.length" class="soft sounds">
                {{ s.sounds.map((x) => `${x.name} (${x.program + 1})`).join(', ') }}
              </span>
            </li>
          </ul>
        </template>
        <template v-if="files.length > 0">
          <h2>Places</h2>
          <p class="places">
            <span
              v-for="f in files"
              :key="f.id"
              class="place"
              :class="{ must: !f.optional }"
              :title="f.name"
              >{{ f.fileName }}</span
            >
          </p>
        </template>
        <template v-if="target.start?.leadInBars || target.end?.onlyBars || target.end?.mostBars">
          <h2>Start and end</h2>
          <BarStrip :target="target" />
        </template>
        <template
          v-if="target.tempo?.lowestBpm || target.tempo?.highestBpm || target.tempo?.onlyBpm"
        >
          <h2>Tempo</h2>
          <TempoScale
            :lowest="target.tempo?.lowestBpm"
            :highest="target.tempo?.highestBpm"
            :only="target.tempo?.onlyBpm"
          />
        </template>
        <template v-if="events.length > 0">
          <h2>Events</h2>
          <ul class="events">
            <li v-for="e in events" :key="e.name" :class="e.takes">
              {{ e.name }} <span class="soft">{{ TAKES[e.takes] }}</span>
            </li>
          </ul>
        </template>
        <h2>Rules that read it</h2>
        <dl class="rules">
          <template v-for="r in held" :key="r.id">
            <dt>{{ r.id }}</dt>
            <dd>{{ r.summary }}</dd>
          </template>
        </dl>
      </div>
    </div>
  </section>
  <section v-else class="page">
    <h1>This target is not on the shelf</h1>
    <p class="serif"><RouterLink to="/targets">All targets</RouterLink></p>
  </section>
</template>

<style scoped>
.page {
  height: 100%;
  overflow: auto;
  padding: 18px 28px 40px;
}

.head {
  display: flex;
  gap: 20px;
  align-items: flex-start;
}

.titles {
  flex: 1;
}

.head h1 {
  font-size: 26px;
}

.summary {
  font-size: 16px;
}

.tools {
  display: flex;
  gap: 8px;
  padding-top: 18px;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 36px;
  margin-top: 8px;
}

h2 {
  margin: 18px 0 6px;
  padding-bottom: 3px;
  border-bottom: 1px solid var(--line);
  font-size: 16px;
}

.lines {
  margin: 0;
  padding-left: 18px;
  line-height: 1.55;
}

.broken {
  color: var(--wax);
}

.drawing {
  margin: 0 0 8px;
}

.drawing figcaption {
  margin-bottom: 2px;
}

.seats {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 6px 14px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.seats strong {
  margin-right: 7px;
}

.seats .sounds {
  display: block;
  font-size: 12px;
}

.places {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.place {
  padding: 1px 6px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--page);
  font-size: 12px;
}

.must {
  border-color: var(--quill);
  font-weight: 600;
}

.events {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.events li {
  padding: 2px 9px;
  border: 1px solid var(--moss);
  border-radius: 4px;
  background: var(--page);
}

.events li.none {
  border: 1px dashed var(--wax);
  background: repeating-linear-gradient(
    45deg,
    var(--hatch-ground),
    var(--hatch-ground) 5px,
    var(--page) 5px,
    var(--page) 8px
  );
}

.events li.some {
  border-color: var(--ochre);
}

.rules {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 14px;
  margin: 0;
  font-size: 12px;
}

.rules dt {
  color: var(--ink-2);
}

.rules dd {
  margin: 0;
}
</style>
