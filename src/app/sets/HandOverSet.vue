<script setup lang="ts">
import { NButton, NInput } from 'naive-ui';
import { computed, onMounted } from 'vue';
import { sayClock } from '../../core/time/meter-map';
import { MANIFEST } from '../../core/sets/manifest';
import { sayBytes } from '../../core/sets/write-card';
import { count, listed } from '../../core/target/words';
import DialogCard from '../kit/DialogCard.vue';
import HandOverProgress from './HandOverProgress.vue';
import { targetOf, useSet } from '../stores/set';
import { useSetHandover } from '../stores/set-handover';
import { useLeadOn } from '../kit/use-lead-on';

/** A set goes out: as a pack, or into a folder, where only what changed is written. */
const emit = defineEmits<{ close: []; open: [key: string] }>();
const open = useSet();
const out = useSetHandover();
const leadOn = useLeadOn();
/** How far it is changes with every file, and is drawn by itself. */
const busy = computed(() => out.busy !== null);
onMounted(() => {
  out.looked = null;
  out.written = null;
  out.problem = null;
  void out.loadCards();
});

async function readIn() {
  const lead = leadOn();
  const id = await out.readIn();
  if (!id) return;
  emit('close');
  await lead(`/sets/${id}`);
}

async function bringTheirs(key: string) {
  const lead = leadOn();
  const id = await out.bringTheirs(key);
  if (!id) return;
  emit('close');
  await lead(`/job/${id}/intake`);
}

/** What tells two songs of one title apart. */
function forTarget(key: string): string {
  const line = open.lineOf.get(key);
  if (open.targetNames.length < 2 || !line?.job) return '';
  return `, ${targetOf(line.job, line.row)}`;
}

const STANDING = {
  new: 'new',
  changed: 'changed',
  same: 'the same',
  theirs: 'changed on the card by somebody',
} as const;
const withStops = computed(() => open.lines.filter((l) => (l.facts?.tally.stops ?? 0) > 0));
const toWrite = computed(() => {
  const songs = out.looked?.comparison.songs ?? [];
  return songs.flatMap((s) => [
    ...s.write,
    ...(out.overTheirs.includes(s.key) ? s.theirs.map((t) => t.file) : []),
  ]);
});
const WHEN = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const when = (at: number) => WHEN.format(at);
function tick(key: string, on: boolean) {
  out.overTheirs = on ? [...out.overTheirs, key] : out.overTheirs.filter((k) => k !== key);
}
</script>

<template>
  <DialogCard title="Hand the set over" :width="760" @close="emit('close')">
    <p v-if="out.blocked" class="problem" role="alert">
      {{ out.blocked.says }} Mend that first: it is listed beside the running order.
    </p>
    <p v-else-if="withStops.length > 0" class="serif">
      {{ count(withStops.length, 'song') }} {{ withStops.length === 1 ? 'has' : 'have' }} stops
      open: {{ listed(withStops.map((l) => l.title)) }}. They go out as they are, and the receipt
      says so.
    </p>
    <p v-if="out.problem" class="problem" role="alert">{{ out.problem }}</p>
    <p v-if="out.written" class="serif" role="status">{{ out.written.says }}</p>
    <p v-if="out.written && out.written.done.keptTheirs.length > 0" class="soft">
      Left as somebody changed it: {{ listed(out.written.done.keptTheirs) }}.
    </p>

    <template v-if="!out.looked">
      <div class="ways">
        <section>
          <h3>As a pack</h3>
          <p class="soft">
            One ZIP: all files in the order of the set, the receipt with that of each song, and
            {{ MANIFEST }}.
          </p>
          <NButton type="primary" :disabled="busy || out.blocked !== null" @click="out.asPack()">
            Save the pack
          </NButton>
        </section>
        <section>
          <h3>Into a folder</h3>
          <p class="soft">
            A card, or the folder of a mod. What lies there is shown before anything is written, and
            only what changed is.
          </p>
          <NButton
            v-for="card in out.cards"
            :key="card.id"
            :disabled="busy || out.blocked !== null"
            @click="out.lookInto(card)"
          >
            {{ card.name }}, last written {{ when(card.seenAt) }}
          </NButton>
          <NButton
            :disabled="busy || out.blocked !== null || !out.canWrite"
            @click="out.lookInto(null)"
          >
            {{ out.cards.length > 0 ? 'Another folder' : 'Choose the folder' }}
          </NButton>
          <p v-if="!out.canWrite" class="soft small">
            This browser cannot write to folders: save the pack, or use <code>set hand-over</code>.
          </p>
        </section>
      </div>
    </template>

    <template v-else>
      <p v-if="out.looked.manifest" class="serif">
        This is “{{ out.looked.manifest.card }}”, written {{ out.looked.manifest.written }} from the
        set “{{ out.looked.manifest.set.title }}”<template v-if="out.looked.foreign">
          – another set than this one</template
        >.
      </p>
      <p v-else class="serif">No set was handed over into {{ out.looked.card.name }} yet.</p>
      <label class="name">
        <span class="soft">The card is called</span>
        <NInput v-model:value="out.name" size="small" maxlength="100" />
      </label>
      <ul class="songs">
        <li v-for="s in out.looked.comparison.songs" :key="s.key" :class="s.standing">
          <span class="serif">{{ s.title }}{{ forTarget(s.key) }}</span>
          <span>{{ STANDING[s.standing] }}</span>
          <span class="soft small">
            {{
              s.write.length > 0
                ? `${count(s.write.length, 'file')}, ${sayBytes(s.write.reduce((n, f) => n + f.bytes, 0))}`
                : ''
            }}
            <template v-for="t in s.theirs" :key="t.at">{{ t.at }} {{ t.says }}. </template>
          </span>
          <label v-if="s.standing === 'theirs'" class="small">
            <input
              type="checkbox"
              :checked="out.overTheirs.includes(s.key)"
              @change="tick(s.key, ($event.target as HTMLInputElement).checked)"
            />
            Overwrite it with ours
          </label>
          <button
            v-if="s.standing === 'theirs'"
            class="link small"
            type="button"
            title="A job of its own, beside the one of this set"
            :disabled="busy"
            @click="bringTheirs(s.key)"
          >
            Open theirs as a job
          </button>
        </li>
        <li v-for="g in out.looked.comparison.gone" :key="`gone ${g.key}`" class="gone">
          <span class="serif">{{ g.title }}</span>
          <span>{{
            open.lineOf.has(g.key) && !out.looked.foreign ? 'put aside' : 'gone from the set'
          }}</span>
          <span class="soft small">{{ listed(g.files.map((f) => f.path)) }}</span>
        </li>
      </ul>
      <label v-if="out.looked.comparison.gone.length > 0" class="gone-too">
        <input v-model="out.removeGone" type="checkbox" />
        Take songs that are not handed over any more off the card
      </label>
      <p v-if="out.looked.comparison.stale.length > 0" class="soft small">
        Its songs have {{ listed(out.looked.comparison.stale) }} no more: taken off.
      </p>
      <p v-if="out.looked.comparison.notOurs.length > 0" class="soft small">
        Not ours, and never touched: {{ listed(out.looked.comparison.notOurs) }}.
      </p>
      <h3 v-if="out.onCard" class="rehearsed">The card, rehearsed as it lies there</h3>
      <ul v-if="out.onCard" class="songs" aria-label="The card, rehearsed">
        <li v-for="s in out.onCard" :key="s.key">
          <span class="serif">{{ s.title }}</span>
          <span>{{ s.target }}</span>
          <span class="small">
            <template v-if="!s.played">no stand-in was found for it</template>
            <template v-else-if="s.played.refused.length > 0">
              would not load: {{ s.played.refused[0] }}
            </template>
            <template v-else>
              plays {{ count(s.played.events, 'event') }}, {{ sayClock(s.played.lengthMs)
              }}{{ s.played.dropped > 0 ? `; leaves out ${s.played.dropped}` : '' }}
            </template>
            <template v-if="s.contradicts.length > 0"> · {{ s.contradicts[0] }}</template>
          </span>
        </li>
      </ul>
      <div class="row">
        <NButton type="primary" :disabled="busy" @click="out.write()">
          {{
            toWrite.length === 0 && !out.removeGone && out.looked.comparison.stale.length === 0
              ? 'Nothing to write'
              : `Write ${count(toWrite.length, 'file')}, ${sayBytes(toWrite.reduce((n, f) => n + f.bytes, 0))}`
          }}
        </NButton>
        <template v-if="out.looked.manifest">
          <NButton :disabled="busy" @click="out.rehearseCard()"> Rehearse the card </NButton>
          <NButton :disabled="busy" @click="readIn">Read it in as a set</NButton>
        </template>
        <NButton :disabled="busy" @click="out.looked = null">Back</NButton>
      </div>
    </template>

    <HandOverProgress />
    <section v-if="open.handovers.length > 0 && !out.looked" class="before">
      <h3>Handed over before</h3>
      <ul>
        <li v-for="h in open.handovers.slice(0, 8)" :key="h.id">
          {{ h.number }}, {{ when(h.at) }}, {{ h.into ?? 'as a pack' }}
          <button class="link" type="button" @click="out.readReceipt(h.number)">Its receipt</button>
        </li>
      </ul>
    </section>
  </DialogCard>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 26px;
  margin-top: 14px;
}

.ways section {
  display: grid;
  gap: 9px;
  justify-items: start;
  align-content: start;
}

h3 {
  font-size: 15px;
}

.rehearsed {
  margin: 14px 0 6px;
}

p + p {
  margin-top: 8px;
}

.name {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 10px 0;
  white-space: nowrap;
}

.songs {
  max-height: 40vh;
  margin: 0;
  padding: 0;
  overflow: auto;
  border-top: 1px solid var(--line);
  list-style: none;
}

.songs li {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1.5fr) minmax(0, 2.3fr) 112px;
  gap: 10px;
  align-items: baseline;
  padding: 5px 2px;
  border-bottom: 1px solid var(--line);
}

.songs .same {
  color: var(--ink-2);
}

.theirs > :nth-child(2),
.gone > :nth-child(2) {
  color: var(--ochre-text);
}

.gone-too {
  display: block;
  margin: 8px 0;
}

.row {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}

.problem {
  color: var(--wax);
}

.before {
  margin-top: 14px;
}

.before ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}

@media (width <= 720px) {
  .ways {
    grid-template-columns: 1fr;
  }
}
</style>
