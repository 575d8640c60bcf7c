<script setup lang="ts" generic="T">
/** Things in an order: each can go before another, behind it, or away. */
const props = defineProps<{
  items: readonly T[];
  what: string;
  least?: number;
  inline?: boolean;
}>();
const emit = defineEmits<{ set: [items: T[]] }>();
defineSlots<{ default: (scope: { item: T; index: number; put: (item: T) => void }) => unknown }>();
function move(i: number, by: number) {
  const next = [...props.items];
  const [one] = next.splice(i, 1);
  next.splice(i + by, 0, one!);
  emit('set', next);
}
const put = (i: number) => (item: T) =>
  emit(
    'set',
    props.items.map((old, n) => (n === i ? item : old)),
  );
const drop = (i: number) =>
  emit(
    'set',
    props.items.filter((_, n) => n !== i),
  );
</script>

<template>
  <span v-for="(item, index) in items" :key="index" :class="inline ? 'piece' : 'line'">
    <slot :item="item" :index="index" :put="put(index)" />
    <span v-if="items.length > 1 || items.length > (least ?? 0)" class="ways">
      <button
        v-if="index > 0"
        type="button"
        class="link"
        :aria-label="`${what} ${index + 1}: one place before`"
        @click="move(index, -1)"
      >
        ↑
      </button>
      <button
        v-if="index < items.length - 1"
        type="button"
        class="link"
        :aria-label="`${what} ${index + 1}: one place behind`"
        @click="move(index, 1)"
      >
        ↓
      </button>
      <button
        v-if="items.length > (least ?? 0)"
        type="button"
        class="link"
        :aria-label="`${what} ${index + 1}: take away`"
        @click="drop(index)"
      >
        away
      </button>
    </span>
  </span>
</template>

<style scoped src="./field.css"></style>
<style scoped>
.ways {
  display: inline-flex;
  gap: 5px;
  margin-left: 6px;
}

.ways > .link {
  color: var(--ink-2);
}

.piece {
  display: block;
}
</style>
