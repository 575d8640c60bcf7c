import { watch } from 'vue';
import { useJob } from '../job';

/** What a store knows of the open job ends with it: nothing of the one is met in the next. */
export function endsWithJob(end: () => void): void {
  const job = useJob();
  watch(() => job.record?.id, end, { flush: 'sync' });
}
