import type { Seat } from '../../target/schema';

/** The parameters that seat a part at a seat. */
export const routeTo = (seat: Seat) => ({
  seat: seat.id,
  ...('channel' in seat ? { channel: seat.channel } : {}),
  ...('track' in seat && seat.track ? { track: seat.track } : {}),
});
