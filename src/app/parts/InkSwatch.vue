<script setup lang="ts">
import { computed } from 'vue';
import { inkOf } from '../sheet/inks';
import { useSettings } from '../stores/settings';

const props = defineProps<{ index: number; faint?: boolean }>();
const settings = useSettings();
const ink = computed(() => inkOf(props.index, settings.light));
</script>

<template>
  <span
    class="swatch"
    :class="[faint ? 'filled' : ink.texture, { faint }]"
    :style="{ '--swatch': faint ? 'var(--faint)' : ink.colour }"
    aria-hidden="true"
  ></span>
</template>

<style scoped>
.swatch {
  flex: none;
  width: 14px;
  height: 10px;
  border: 1.5px solid var(--swatch);
  border-radius: 2px;
}

.filled {
  background: var(--swatch);
}

.hatched {
  background: repeating-linear-gradient(-45deg, var(--swatch) 0 1.5px, transparent 1.5px 4px);
}

.dotted {
  border-style: dotted;
  background: repeating-linear-gradient(90deg, var(--swatch) 0 2px, transparent 2px 4px);
}
</style>
