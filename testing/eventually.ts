import { vi } from 'vitest';

/** As long as it may take on a machine that does other things meanwhile. */
const PATIENCE_MS = 15_000;

/** Waits until what is said of the screen is so; the last fault is told where it never is. */
export const eventually = <T>(says: () => T | Promise<T>): Promise<T> =>
  vi.waitFor(says, { timeout: PATIENCE_MS, interval: 20 });
