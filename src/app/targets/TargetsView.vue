<script setup lang="ts">
import { NButton } from 'naive-ui';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { strictnessOf } from '../../core/target/strictness';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';
import { useByAndBy } from '../kit/use-by-and-by';
import TargetPicture from '../rehearsal/TargetPicture.vue';
import LearnTarget from './LearnTarget.vue';
import { useFiles } from '../kit/use-files';
import { useLeadOn } from '../kit/use-lead-on';

/** The shelf of targets: what each is, how strict, how many jobs use it. */
const targets = useTargets();
const shelf = useShelf();
const router = useRouter();
const leadOn = useLeadOn();
onMounted(targets.load);
const learning = ref(false);
const refused = ref<readonly string[]>([]);

const cards = computed(() =>
  [...targets.all]
    .sort((a, b) => Number(targets.isBuiltIn(a.id)) - Number(targets.isBuiltIn(b.id)))
    .map((target) => ({
      target,
      own: !targets.isBuiltIn(target.id),
      lines: strictnessOf(target),
      jobs: targets.jobsOf(target.id, shelf.jobs).length,
    })),
);

const setUp = useByAndBy(() => cards.value.length, 4);

const choose = useFiles('.json,.quilltarget', picked);
async function picked(files: File[]) {
  const lead = leadOn();
  refused.value = [];
  const taken: string[] = [];
  for (const file of files) {
    const result = await targets.takeFile(file);
    if ('id' in result) taken.push(result.id);
    else
      refused.value = [
        ...refused.value,
        ...result.problems.map((p) => `${file.name}: ${p.path ? `${p.path}: ` : ''}${p.says}`),
      ];
  }
  // One that was taken in is opened; where some were refused, what is said of them stays in view.
  const [only] = taken;
  if (taken.length === 1 && refused.value.length === 0) await lead(`/targets/${only}`);
}
</script>

<template>
  <section class="targets" aria-labelledby="targets-title">
    <header class="head">
      <h1 id="targets-title">Targets</h1>
      <div class="tools">
        <NButton @click="choose()">Take in a target file</NButton>
        <NButton @click="learning = true">What would accept this file?</NButton>
        <NButton type="primary" @click="router.push('/targets/new')">New target</NButton>
      </div>
    </header>
    <p class="serif intro">
      A target says what a device or game accepts. Open one to read it, or copy it to change a
      number. Describe your own in seven questions, or have one made from files that the device
      takes.
    </p>
    <ul v-if="refused.length > 0" class="refused" role="alert">
      <li v-for="says in refused" :key="says">{{ says }}</li>
    </ul>
    <p v-if="targets.problem" class="refused" role="alert">{{ targets.problem }}</p>

    <ul class="cards" :aria-busy="setUp < cards.length">
      <li
        v-for="{ target, own, lines, jobs } in cards.slice(0, setUp)"
        :key="target.id"
        class="card"
      >
        <h2>
          <RouterLink :to="`/targets/${target.id}`">{{ target.name }}</RouterLink>
        </h2>
        <TargetPicture class="picture" :target="target" :width="240" :height="100" />
        <p class="soft">{{ target.summary }}</p>
        <ul class="lines">
          <li v-for="line in lines.slice(0, 5)" :key="line.says">{{ line.says }}</li>
          <li v-if="lines.length > 5" class="soft">and {{ lines.length - 5 }} more</li>
        </ul>
        <p class="foot soft">
          <span>{{ own ? 'Your own' : 'Ships with it' }} · {{ target.version }}</span>
          <span v-if="jobs > 0">{{ jobs === 1 ? 'one job' : `${jobs} jobs` }}</span>
        </p>
      </li>
    </ul>
    <LearnTarget v-if="learning" @close="learning = false" />
  </section>
</template>

<style scoped>
.targets {
  height: 100%;
  overflow: auto;
  padding: 22px 28px 40px;
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  justify-content: space-between;
}

.head h1 {
  font-size: 26px;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.intro {
  max-width: 680px;
  margin: 6px 0 16px;
  color: var(--ink-2);
  font-size: 15px;
}

.refused {
  margin: 0 0 14px;
  padding: 8px 12px;
  border-left: 3px solid var(--wax);
  background: var(--page);
  list-style: none;
}

.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(268px, 1fr));
  gap: 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.card {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 12px 14px 10px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.card:hover {
  border-color: var(--quill);
}

.card h2 {
  font-size: 17px;
}

.card h2 a {
  color: inherit;
  text-decoration: none;
}

.card h2 a::after {
  position: absolute;
  inset: 0;
  content: '';
}

.lines {
  flex: 1;
  margin: 2px 0 0;
  padding: 0 0 0 14px;
  font-size: 12px;
  line-height: 1.45;
}

.lines li::marker {
  color: var(--faint);
}

.foot {
  display: flex;
  justify-content: space-between;
  padding-top: 6px;
  border-top: 1px solid var(--line);
  font-size: 12px;
}
</style>
