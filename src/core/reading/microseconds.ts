import type { Maps } from '../score/inventory';

/** Clock time of a tick in whole microseconds, as every format holds it. */
export const microsecondsAt = ({ clock }: Pick<Maps, 'clock'>, tick: number): number =>
  Math.round(clock.msAt(tick) * 1000);
