import * as z from 'zod';

/** Which curves a step is for. */
export const WANTED = {
  controllers: z
    .array(z.int().min(0).max(127))
    .min(1)
    .max(128)
    .optional()
    .describe('Controllers by their numbers'),
  bend: z.boolean().optional().describe('The pitch bend'),
};
export const controllerNumber = z.int().min(0).max(127);
