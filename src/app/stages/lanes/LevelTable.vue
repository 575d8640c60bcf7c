<script setup lang="ts">
import { NButton, NInputNumber } from 'naive-ui';
import { computed } from 'vue';
import { count } from '../../../core/target/words';
import { useJob } from '../../stores/job';
import type { LevelsParams } from '../../stores/hand-levels';
import { useLanes, type LevelGroup } from '../../stores/lanes';
import LaneStrip from './LaneStrip.vue';

/** The levels of one part side by side; those that are made of the hardest can be set here. */
const props = defineProps<{ group: LevelGroup }>();
const job = useJob();
const lanes = useLanes();
const maker = computed(() => lanes.maker(props.group));
const made = computed(() => (maker.value?.params as LevelsParams | undefined)?.levels ?? []);
const all = computed(() =>
  [props.group.hardest, ...props.group.easier].map((seat) => ({
    seat,
    part: lanes.playing(seat),
    level: made.value.find((l) => l.seat === seat.id) ?? null,
  })),
);
const empty = computed(() => all.value.filter((r) => !r.part).length);
const says = (n: number | undefined) => (n === undefined ? 'empty' : count(n, 'note'));
</script>

<template>
  <section class="levels" :aria-label="`Levels of ${group.name}`">
    <div class="top">
      <strong>Levels of {{ group.name }}</strong>
      <NButton
        v-if="!maker && empty > 0"
        size="small"
        type="primary"
        :disabled="job.readOnly"
        @click="lanes.makeLevels(group)"
      >
        Make {{ count(empty, 'easier level') }}
      </NButton>
      <button
        v-else-if="maker"
        class="link"
        type="button"
        :disabled="job.readOnly"
        @click="lanes.noLevels(group)"
      >
        No easier levels
      </button>
    </div>
    <LaneStrip
      :parts="
        all
          .filter((r) => r.part)
          .map((r) => ({ name: r.seat.name, part: r.part, laneNotes: r.seat.laneNotes }))
      "
    />
    <template v-if="maker">
      <table>
        <thead>
          <tr>
            <th scope="col">Level</th>
            <th scope="col">Notes</th>
            <th scope="col">At once</th>
            <th scope="col">In a second</th>
            <th scope="col"><span class="sr">By hand</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ seat, part, level } in all" :key="seat.id">
            <th scope="row">{{ seat.name }}</th>
            <td class="figures">{{ says(part?.columns.count) }}</td>
            <template v-if="level && !level.kept">
              <td>
                <NInputNumber
                  size="tiny"
                  :value="level.together"
                  :min="1"
                  :max="16"
                  :update-value-on-input="false"
                  :disabled="job.readOnly"
                  :input-props="{ 'aria-label': `${seat.name}: notes at once` }"
                  @update:value="$event && lanes.setLevel(group, seat.id, { together: $event })"
                />
              </td>
              <td>
                <NInputNumber
                  size="tiny"
                  :value="level.strikesASecond"
                  :min="1"
                  :max="1000"
                  :update-value-on-input="false"
                  :disabled="job.readOnly"
                  :input-props="{ 'aria-label': `${seat.name}: strikes in a second` }"
                  @update:value="
                    $event && lanes.setLevel(group, seat.id, { strikesASecond: $event })
                  "
                />
              </td>
              <td></td>
            </template>
            <td v-else-if="level" colspan="3" class="hand">
              changed by hand
              <button
                class="link"
                type="button"
                :disabled="job.readOnly"
                @click="lanes.setLevel(group, seat.id, null)"
              >
                make it anew
              </button>
            </td>
            <td v-else colspan="3" class="soft">
              {{
                seat.id === group.hardest.id ? 'what the others are made of' : part ? 'its own' : ''
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-else-if="empty > 0" class="soft small">
      Fewer notes at once, fewer strikes, fewer lanes; made anew when {{ group.hardest.name }}
      changes, but for what you change by hand.
    </p>
  </section>
</template>

<style scoped>
.levels {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}

.top {
  display: flex;
  gap: 9px;
  align-items: center;
  justify-content: space-between;
}

table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
}

th,
td {
  padding: 2px 6px 2px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
}

thead th {
  color: var(--ink-2);
}

.figures {
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}

td :deep(.n-input-number) {
  width: 78px;
}

.hand .link,
.small {
  font-size: 12px;
}
</style>
