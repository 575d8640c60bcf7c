import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue';
import { frames } from './frame-queue';

/** Whether its turn has come: what is behind it is set up in a frame of its own. */
export function useInTurn(): Ref<boolean> {
  const stands = ref(false);
  onMounted(() => frames.add(stands, () => (stands.value = true), { alone: true }));
  onBeforeUnmount(() => frames.drop(stands));
  return stands;
}
