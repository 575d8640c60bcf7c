import * as z from 'zod';

const LONGEST_US = 3_600_000_000;
const time = z.int().min(0).max(LONGEST_US);

/** One change of the sound, in microseconds of the sound as the changes before it left it. */
export const SoundEditSchema = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('insert'), atUs: time, us: time }),
  z.strictObject({ is: z.literal('cut'), fromUs: time, toUs: time }),
  z.strictObject({ is: z.literal('gain'), db: z.number().min(-96).max(48) }),
  z.strictObject({ is: z.literal('fade'), inUs: time, outUs: time }),
  z.strictObject({ is: z.literal('silence'), fromUs: time, toUs: time }),
  z.strictObject({ is: z.literal('length'), us: time }),
]);
export type SoundEdit = Readonly<z.infer<typeof SoundEditSchema>>;
