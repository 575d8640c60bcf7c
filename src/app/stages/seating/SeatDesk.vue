<script setup lang="ts">
import { NButton } from 'naive-ui';
import { tinykeys } from 'tinykeys';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { rolesParted } from '../../../core/seating/suspect';
import { count, noteName } from '../../../core/target/words';
import { bindings } from '../../keys/keys';
import { applyMend } from '../../margin/apply';
import { sayCosts } from '../../margin/costs';
import { useToFinding } from '../../margin/to-finding';
import { useJob } from '../../stores/job';
import { LEFT_OUT, NO_SEAT, useSeating } from '../../stores/seating';
import { useByAndBy } from '../../kit/use-by-and-by';
import FollowedLines from './FollowedLines.vue';
import SeatCard from './SeatCard.vue';
import SplitPart from './SplitPart.vue';
import SlipPile from './SlipPile.vue';

/** Parts on one side, seats on the other: who sits where, dragged or seated by keys. */
const job = useJob();
const seating = useSeating();
const toFinding = useToFinding();
const wide = computed(() => seating.seats.length > 1);
const setUp = useByAndBy(() => seating.seats.length, 2);

/** Who would sit where by fit: the best way of the finding, which is known once all were tried. */
const suggestion = computed(() => {
  const finding = job.findings.find((f) => f.code === 'unseated' && f.reason === null);
  if (!finding) return null;
  const trials = job.trials[finding.key];
  const ways = job
    .rankedMends(finding)
    .filter(({ mend, i }) => !trials?.[i]?.refused && mend.steps.some((s) => s.step === 'route'));
  const [best] = ways;
  // Where trying failed, which is said elsewhere, the first of the list is as good as any.
  const waits = !trials && job.failure === null;
  return best
    ? { finding, mend: best.mend, tried: trials?.[best.i], waits, further: ways.length - 1 }
    : null;
});

/** Of parts without a seat the first that seems to be two. */
const parting = ref(false);
const twoRoles = computed(() => {
  for (const part of seating.unseated) {
    const parted = part.channel === 10 ? null : rolesParted(seating.countsOfAll([part.columns]));
    if (parted) return { part, ...parted };
  }
  return null;
});

const join = () =>
  job.addSteps(`${count(seating.chosen.length, 'part')} joined in one`, [
    { step: 'join', params: {}, scope: { parts: seating.chosen.map((p) => p.ref) }, on: true },
  ]);

let off = () => {};
onMounted(() => {
  off = tinykeys(
    window,
    bindings({
      aim: ({ key }) => (seating.aim = seating.seats[Number(key) - 1]?.id ?? null),
      seat: () => {
        if (seating.aim !== null) seating.place(seating.chosen, seating.aim);
      },
      'leave-out': () => seating.place(seating.chosen, LEFT_OUT),
    }),
  );
});
onBeforeUnmount(() => {
  off();
  seating.aim = null;
});
</script>

<template>
  <div class="desk">
    <section
      v-if="seating.unseated.length > 0 && seating.ownSeats.length > 0"
      class="waiting"
      :data-to="NO_SEAT"
      aria-labelledby="no-seat"
    >
      <h3 id="no-seat">
        No seat yet <span class="soft count">{{ seating.unseated.length }}</span>
      </h3>
      <SlipPile :parts="seating.unseated" label="Parts without a seat" />
      <div v-if="suggestion" class="suggestion">
        <NButton
          size="small"
          type="primary"
          :disabled="job.readOnly || suggestion.waits"
          @click="applyMend(suggestion.finding, suggestion.mend)"
        >
          Seat by fit
        </NButton>
        <p v-if="suggestion.waits" class="soft">Trying who may play…</p>
        <p v-else class="soft">
          {{ suggestion.mend.title }}: {{ sayCosts(suggestion.tried) }}.
          <button
            v-if="suggestion.further > 0"
            class="link"
            type="button"
            @click="toFinding(suggestion.finding.key)"
          >
            {{ count(suggestion.further, 'more way') }}
          </button>
        </p>
      </div>
    </section>

    <section v-if="twoRoles" class="parting" :aria-label="`${twoRoles.part.name}: split`">
      <p>
        {{ twoRoles.part.name }} may be two roles in one: nothing is played between
        {{ noteName(twoRoles.below) }} and {{ noteName(twoRoles.above) }}.
        <button v-if="!parting" class="link" type="button" @click="parting = true">
          Split it…
        </button>
      </p>
      <SplitPart v-if="parting" :part="twoRoles.part" @close="parting = false" />
    </section>

    <FollowedLines />

    <ul
      class="seats"
      :class="{ wide }"
      aria-label="Seats"
      :aria-busy="setUp < seating.seats.length"
    >
      <SeatCard
        v-for="(view, i) in seating.seats.slice(0, setUp)"
        :key="view.id"
        :view="view"
        :digit="i < 9 && seating.seats.length > 1 ? i + 1 : null"
      />
    </ul>

    <section
      class="out"
      :class="{ aimed: seating.aim === LEFT_OUT }"
      :data-to="LEFT_OUT"
      aria-labelledby="left-out"
    >
      <div class="pile-row">
        <h3 id="left-out">
          Left out <span class="soft count">{{ seating.leftOut.length }}</span>
        </h3>
        <SlipPile :parts="seating.leftOut" label="Parts that are left out" />
      </div>
      <div class="ways">
        <NButton
          v-if="seating.chosen.some((p) => !p.leftOut)"
          size="tiny"
          :disabled="job.readOnly"
          @click="seating.place(seating.chosen, LEFT_OUT)"
        >
          Leave out
          {{
            seating.chosen.length === 1
              ? seating.chosen[0]!.name
              : count(seating.chosen.length, 'part')
          }}
        </NButton>
        <NButton
          v-if="seating.chosen.length > 1"
          size="tiny"
          :disabled="job.readOnly"
          @click="join"
        >
          Join {{ count(seating.chosen.length, 'part') }} in one
        </NButton>
        <NButton
          v-if="seating.unseated.length > 0 && seating.ownSeats.length > 0"
          size="tiny"
          :disabled="job.readOnly"
          @click="seating.place(seating.unseated, LEFT_OUT)"
        >
          Leave out
          {{ seating.unseated.length === 1 ? 'the one' : `the ${seating.unseated.length}` }}
          without a seat
        </NButton>
      </div>
    </section>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  margin-top: 10px;
}

.waiting {
  padding: 8px 9px 10px;
  border: 1px solid var(--wax);
  border-radius: 5px;
}

.desk h3 {
  margin: 0 0 6px;
}

.count {
  font: 400 12px var(--sans);
}

.parting {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
  padding: 8px 9px 10px;
  border: 1px solid var(--line);
  border-radius: 5px;
  background: var(--page);
}

.suggestion {
  display: flex;
  gap: 9px;
  align-items: start;
  margin-top: 9px;
  font-size: 12px;
}

.seats {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.seats.wide {
  grid-template-columns: repeat(auto-fill, minmax(182px, 1fr));
}

.out {
  position: sticky;
  bottom: -20px;
  padding: 6px 9px 9px;
  border: 1px dashed var(--ink-2);
  border-radius: 5px;
  background: var(--paper);
}

.aimed {
  border-color: var(--quill);
  box-shadow: inset 0 0 0 1px var(--quill);
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}

.pile-row {
  display: flex;
  gap: 10px;
  align-items: baseline;
  max-height: 96px;
  overflow: auto;
}

.pile-row h3 {
  flex: none;
}
</style>
