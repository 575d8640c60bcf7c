import * as z from 'zod';
import { LATEST_TICK } from '../smf/file';

/** How the parameters of a step name a part, as scopes do. */
export const PartAddress = z.strictObject({
  source: z.string().max(100),
  track: z.string().max(2000),
  channel: z.int().min(1).max(16),
  occurrence: z.int().min(0).max(65_535),
});

/** How they name a note: by where it stood in its source. */
export const NoteAddressShape = z.strictObject({
  part: PartAddress,
  startTick: z.int().min(0).max(LATEST_TICK).describe('Ticks of the source'),
  noteNumber: z.int().min(0).max(127),
  occurrence: z.int().min(0).max(65_535),
});
