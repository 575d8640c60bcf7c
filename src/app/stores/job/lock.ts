import { lockName } from '../../storage/locks';

interface LockNote {
  /** It is this tab's from the start. */
  granted(): void;
  /** Another tab has it: here it can be read only. */
  taken(): void;
  /** The other tab let go; from now on it may be written here. */
  free(): Promise<void>;
}

/** Holds a job for this tab until it is released, or waits until the tab that has it lets go. */
export function heldJob(id: string, told: LockNote): { release(): void } {
  if (!navigator.locks) {
    told.granted();
    return { release: () => undefined };
  }
  let released = false;
  let letGo: () => void = () => undefined;
  const waiting = new AbortController();
  // A job that was left before its lock was granted must not hold it.
  const hold = () =>
    released ? Promise.resolve() : new Promise<void>((resolve) => (letGo = resolve));
  void navigator.locks.request(lockName(id), { ifAvailable: true }, (lock) => {
    if (lock && !released) told.granted();
    if (lock || released) return hold();
    told.taken();
    navigator.locks
      .request(lockName(id), { signal: waiting.signal }, async () => {
        const until = hold();
        if (!released) await told.free();
        return until;
      })
      .catch(() => undefined); // given up: the job was closed first
    return undefined;
  });
  return {
    release() {
      released = true;
      waiting.abort();
      letGo();
    },
  };
}
