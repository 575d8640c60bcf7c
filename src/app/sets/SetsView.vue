<script setup lang="ts">
import { Download, Trash2 } from '@lucide/vue';
import { NButton } from 'naive-ui';
import { songsOf } from '../../core/sets/set';
import { count } from '../../core/target/words';
import AskFirst from '../kit/AskFirst.vue';
import { useFiles } from '../kit/use-files';
import { useSets } from '../stores/sets';
import { useShelf } from '../stores/shelf';
import type { SetRow } from '../storage/db';
import { useLeadOn } from '../kit/use-lead-on';

/** The sets that there are: shows, song lists, cards. */
const sets = useSets();
const shelf = useShelf();
const leadOn = useLeadOn();

async function make() {
  const lead = leadOn();
  const names = new Set(sets.rows.map((r) => r.set.title));
  let title = 'New set';
  for (let n = 2; names.has(title); n++) title = `New set ${n}`;
  await lead(`/sets/${await sets.make(title, [])}`);
}
const choose = useFiles('.quillset', async (files) => {
  const lead = leadOn();
  for (const file of files) {
    const id = await sets.bring(file);
    if (id && files.length === 1) await lead(`/sets/${id}`);
  }
});
const titleOf = (id: string) => shelf.jobs.find((j) => j.id === id)?.title ?? 'a job that is gone';
function sayFirst({ set }: SetRow): string {
  const titles = songsOf(set).map((r) => titleOf(r.job));
  return titles.length <= 4
    ? titles.join(', ')
    : `${titles.slice(0, 4).join(', ')} and ${titles.length - 4} more`;
}
const WHEN = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});
</script>

<template>
  <section class="sets" aria-labelledby="sets-title">
    <header class="head">
      <h1 id="sets-title">Sets</h1>
      <div class="tools">
        <NButton @click="choose()">Open a set file</NButton>
        <NButton type="primary" @click="make">New set</NButton>
      </div>
    </header>
    <div v-if="sets.loaded && sets.rows.length === 0" class="empty serif">
      <p>
        A set is an ordered list of songs that are handed over together: a show, a song list, a
        pack, a card. One button hands all of them over; into a folder that was written before, only
        what changed is written.
      </p>
      <p>
        Make a set and bring songs into it, or drop several files and say that they are one.
        <button v-if="shelf.jobs.length === 0" class="link" type="button" @click="shelf.seedDemo()">
          Open the lantern week demo</button
        ><template v-if="shelf.jobs.length === 0">: it brings two sets along.</template>
      </p>
    </div>
    <ul v-else class="list">
      <li v-for="row in sets.rows" :key="row.id">
        <RouterLink class="title" :to="`/sets/${row.id}`">{{ row.set.title }}</RouterLink>
        <span class="soft n">{{ count(songsOf(row.set).length, 'song') }}</span>
        <span class="soft songs" :title="sayFirst(row)">{{ sayFirst(row) }}</span>
        <span class="soft when">{{ WHEN.format(row.changedAt) }}</span>
        <span class="more">
          <button
            class="icon"
            type="button"
            :aria-label="`Save ${row.set.title} as a file`"
            title="Save the set with its jobs as a file"
            @click="sets.save(row)"
          >
            <Download :size="16" />
          </button>
          <AskFirst
            v-slot="{ ask }"
            :title="`Remove “${row.set.title}”?`"
            says="Its order and its handovers go. The jobs in it stay, and so does what was written to cards."
            yes="Remove the set"
            @yes="sets.remove(row.id)"
          >
            <button
              class="icon"
              type="button"
              :aria-label="`Remove ${row.set.title}`"
              title="Remove the set"
              @click="ask"
            >
              <Trash2 :size="16" />
            </button>
          </AskFirst>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.sets {
  height: 100%;
  padding: 22px 28px;
  overflow: auto;
}

.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 18px;
}

.head h1 {
  font-size: 24px;
}

.tools {
  display: flex;
  gap: 10px;
}

.empty {
  max-width: 620px;
  margin: 10vh auto 0;
  font-size: 17px;
}

.empty p + p {
  margin-top: 12px;
}

.list {
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--line);
  list-style: none;
}

.list li {
  display: grid;
  grid-template-columns: minmax(180px, 2fr) 80px minmax(0, 4fr) 120px 60px;
  gap: 14px;
  align-items: baseline;
  padding: 12px 4px;
  border-bottom: 1px solid var(--line);
}

.title {
  color: var(--ink);
  font: 600 18px var(--serif);
  text-decoration: none;
}

.songs {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.more {
  white-space: nowrap;
}

@media (width <= 860px) {
  .list li {
    grid-template-columns: minmax(0, 1fr) 70px 60px;
  }

  .songs,
  .when {
    display: none;
  }
}
</style>
