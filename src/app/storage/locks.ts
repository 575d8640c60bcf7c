/** The name under which the tab that writes a job holds it. */
export const lockName = (jobId: string): string => `wary-quill:${jobId}`;

/** Runs `write` where no tab has the job open; false where one does, and nothing was done. */
export async function whileFree(jobId: string, write: () => Promise<void>): Promise<boolean> {
  if (!navigator.locks) {
    await write();
    return true;
  }
  return navigator.locks.request(lockName(jobId), { ifAvailable: true }, async (lock) => {
    if (!lock) return false;
    await write();
    return true;
  });
}
