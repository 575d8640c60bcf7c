import type { Target } from './schema';

/** Whether the companion sound is delivered with the score, and so can be changed as well. */
export const soundGoesOut = ({ outputs }: Pick<Target, 'outputs'>): boolean =>
  outputs.some((o) => o.writer === 'sound');

/** Whether the target plays beside a recording in any way. */
export const playsBeside = ({ end, start, outputs }: Target): boolean =>
  soundGoesOut({ outputs }) ||
  [end?.soundWithinMs, end?.soundWithinFrames, start?.soundToo].some((l) => l !== undefined);

/** The name under which a recording goes out: whatever it came as, a WAV is written. */
export const companionName = (name: string): string => `${name.replace(/\.[^.]*$/, '')}.wav`;
