import { getActivePinia } from 'pinia';
import { afterEach } from 'vitest';

/** A clock of its own: a test may stand in for the other. */
const later = globalThis.setTimeout;
const LONGEST_MS = 10_000;

/**
 * A job that a test left goes on being saved, and would be written over the one of the next test: all
 * of them share a base. It is waited for where a test has opened one.
 */
afterEach(async () => {
  const stores = (getActivePinia() as { _s?: ReadonlyMap<string, object> } | undefined)?._s;
  if (!stores?.has('open-job')) return;
  const { useJob } = await import('../src/app/stores/job');
  const job = useJob();
  const begun = performance.now();
  while (!job.idle && performance.now() - begun < LONGEST_MS)
    await new Promise((done) => later(done, 5));
});
