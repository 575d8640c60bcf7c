<script setup lang="ts">
import { computed, ref } from 'vue';
import { WhenSchema, type When } from '../../../../core/formats/own/schema';
import { caseFilters, withSaid, type RowFilter } from './row-choices';
import RowFilters from './RowFilters.vue';

/** For which notes something stands there; where nothing is said it is for all, if that may be. */
const props = defineProps<{ when: When | undefined; name: string; least?: boolean }>();
const emit = defineEmits<{ set: [when: When | undefined] }>();
const opened = ref(false);
/** Of what is said all; the rest where it is asked for. */
const shown = computed(() =>
  caseFilters(props.when ?? {}).filter((f) => opened.value || f.said !== ''),
);
const seats = computed(() => props.when?.seats ?? (opened.value ? [] : null));

function put(next: When): boolean {
  const isBare = Object.keys(next).length === 0;
  if (isBare && props.least) return false;
  if (isBare) emit('set', undefined);
  else {
    const result = WhenSchema.safeParse(next);
    if (!result.success) return false;
    emit('set', result.data);
  }
  return true;
}
function say(key: RowFilter['key'], said: string, taken: (is: boolean) => void) {
  taken(put(withSaid(props.when ?? {}, key, said)));
}
function ofSeats(ids: readonly string[]) {
  const rest: When = { ...props.when };
  delete rest.seats;
  put(ids.length === 0 ? rest : { ...rest, seats: [...ids] });
}
</script>

<template>
  <template v-if="when || opened">
    for notes
    <RowFilters :filters="shown" :seats="seats" :name="name" @say="say" @seats="ofSeats" />
  </template>
  <button
    type="button"
    class="link"
    :aria-expanded="opened"
    :aria-label="`${name}: for which notes`"
    @click="opened = !opened"
  >
    {{ opened ? 'less' : when ? 'which' : 'only for some' }}
  </button>
</template>

<style scoped src="./field.css"></style>
