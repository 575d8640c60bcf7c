import { useRouter } from 'vue-router';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';

/** Goes to a finding where all its ways stand, opened. */
export function useToFinding(): (key: string) => Promise<void> {
  const [job, looking, router] = [useJob(), useLooking(), useRouter()];
  return async (key) => {
    if (job.record) await router.push(`/job/${job.record.id}/proof`);
    looking.lookAt(key);
  };
}
