<script setup lang="ts">
import { useInTurn } from './use-in-turn';

/** What is in it is set up in a frame of its own. */
const stands = useInTurn();
</script>

<template>
  <slot v-if="stands" />
</template>
