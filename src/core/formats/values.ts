import * as z from 'zod';

/** Values that several formats are made of. */
export const tick = z
  .int()
  .min(0)
  .max(2 ** 31 - 1)
  .describe('Tick, from 0.');
export const us = z.int().min(0).describe('Clock time in whole microseconds.');
/** As long as it is in the file that it came from: names and markers have no end of their own. */
export const text = z.string();
export const file = z
  .string()
  .min(1)
  .max(200)
  .refine((n) => !n.includes('\\') && !n.split('/').includes('..') && !n.startsWith('/'), {
    message: 'a path inside the delivery is needed',
  });
export const channel = z.int().min(1).max(16).describe('Channel, 1–16.');
export const key = z.int().min(0).max(127).describe('Note number, 60 is C4.');
export const velocity = z.int().min(1).max(127);
export const ppq = z.int().min(1).max(32_767).describe('Ticks to a quarter note.');

export const tempos = z
  .array(z.strictObject({ tick, atUs: us, microsecondsPerQuarter: z.int().min(1).max(0xffffff) }))
  .min(1)
  .describe('Tempos in order; the first stands at tick 0.');
export const meters = z
  .array(
    z.strictObject({
      tick,
      numerator: z.int().min(1).max(255),
      denominator: z.literal([1, 2, 4, 8, 16, 32, 64, 128]),
    }),
  )
  .min(1)
  .describe('Meters in order; the first stands at tick 0.');
export const named = z.strictObject({ tick, atUs: us, name: text });
export const sound = z
  .strictObject({
    file: file.describe('Name of the companion sound.'),
    lengthUs: us
      .nullable()
      .describe('Its length; null where the sound does not come along with this file.'),
  })
  .nullable()
  .describe('The sound that plays beside it; null where there is none.');

/** CSV cells: texts that are numbers. */
export const wholeCell = z
  .string()
  .regex(/^-?(0|[1-9]\d{0,14})$/, 'a whole number is needed')
  .transform(Number);
export const secondsCell = z
  .string()
  .regex(/^(0|[1-9]\d{0,8})\.\d{6}$/, 'seconds with six decimals are needed')
  .transform((s) => Number(s.replace('.', '')))
  .describe('Seconds with six decimals; read as whole microseconds.');
