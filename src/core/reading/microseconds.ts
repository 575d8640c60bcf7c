import type { Maps } from '../score/inventory';

/** Clock time of a tick in whole microseconds, as every format holds it. */
export const microsecondsAt = ({ clock }: Pick<Maps, 'clock'>, tick: number): number =>
  // Halves go up: what clock times lack of one is a hair of their own sum.
  Math.floor(clock.msAt(tick) * 1000 + 0.5 + HAIR);
const HAIR = 1e-6;
