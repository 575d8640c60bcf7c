import * as z from 'zod';

/* What several lines of `--json` are made of. */

export const tick = z.int().min(0);
export const ms = z.number().describe('Milliseconds, at most three decimals');
export const hash = z.string().regex(/^[0-9a-f]{64}$/);
export const severity = z.enum(['stop', 'caution', 'remark']);

const share = z
  .number()
  .min(0)
  .max(1)
  .nullable()
  .describe('Share of the source, 0 to 1; null where there is none, or it cannot be held');
/** What a listener follows. */
export const FiguresJson = z.strictObject({ tune: share, bass: share, beat: share, chords: share });

export const TallyJson = z.strictObject({
  stops: z.int().min(0),
  cautions: z.int().min(0),
  remarks: z.int().min(0),
  leftAsIs: z.int().min(0),
});
