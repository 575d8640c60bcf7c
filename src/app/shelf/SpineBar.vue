<script setup lang="ts">
import { useRoute } from 'vue-router';
import { useSettings } from '../stores/settings';
import quill from '../assets/quill.svg';

const route = useRoute();
const PLACES = [
  { label: 'Jobs', to: '/', names: ['jobs', 'job'] },
  { label: 'Sets', to: '/sets', names: ['sets', 'set'] },
  { label: 'Targets', to: '/targets', names: ['targets', 'target', 'target-edit'] },
  { label: 'Recipes', to: '/recipes', names: ['recipes'] },
  { label: 'Fit', to: '/fit', names: ['fit'] },
];
defineEmits<{ keys: [] }>();
const settings = useSettings();
const turn = () => (settings.light = settings.light === 'paper' ? 'booth' : 'paper');
</script>

<template>
  <nav class="spine" aria-label="Main">
    <RouterLink to="/" class="mark" aria-label="Wary Quill, all jobs">
      <img :src="quill" alt="" width="34" height="34" />
    </RouterLink>
    <RouterLink
      v-for="place in PLACES"
      :key="place.to"
      :to="place.to"
      class="item"
      :class="{ here: place.names.includes(String(route.name)) }"
      >{{ place.label }}</RouterLink
    >
    <span class="room"></span>
    <button class="item plain" type="button" @click="$emit('keys')">Keys ?</button>
    <button class="item plain" type="button" @click="turn">
      {{ settings.light === 'paper' ? 'Booth light' : 'Paper light' }}
    </button>
  </nav>
</template>

<style scoped>
.spine {
  display: flex;
  flex-direction: column;
  align-items: stretch;
  height: 100vh;
  padding: 8px 0 12px;
  background: var(--spine);
  color: var(--spine-text);
}

.mark {
  display: grid;
  place-items: center;
  height: 44px;
  margin-bottom: 8px;
}

.item {
  padding: 9px 4px;
  color: var(--spine-text);
  font-size: 12px;
  line-height: 1.25;
  text-align: center;
  text-decoration: none;
}

.item:hover {
  color: #fff9ec;
}

.here {
  box-shadow: inset 3px 0 0 var(--gold);
  color: #fff9ec;
  font-weight: 600;
}

.room {
  flex: 1;
}

@media (width <= 720px) {
  .item {
    padding-inline: 1px;
    font-size: 11px;
    letter-spacing: -0.02em;
  }
}

.spine :focus-visible {
  outline-color: var(--gold);
  outline-offset: -2px;
}
</style>
