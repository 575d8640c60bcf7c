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

/**
 * Runs `write` over the jobs that no tab has open, all held until it is done.
 * @returns those that a tab has open: nothing was done to them
 */
export async function whileAllFree(
  jobIds: readonly string[],
  write: (free: readonly string[]) => Promise<void>,
): Promise<ReadonlySet<string>> {
  const free: string[] = [];
  const taken = new Set<string>();
  const hold = async (at: number): Promise<void> => {
    const id = jobIds[at];
    if (id === undefined) return write(free);
    const got = await whileFree(id, () => {
      free.push(id);
      return hold(at + 1);
    });
    if (got) return;
    taken.add(id);
    await hold(at + 1);
  };
  await hold(0);
  return taken;
}
